const FONT =
  require.resolve('@expo-google-fonts/atkinson-hyperlegible/400Regular/AtkinsonHyperlegible_400Regular.ttf');
const STRONG =
  require.resolve('@expo-google-fonts/atkinson-hyperlegible/700Bold/AtkinsonHyperlegible_700Bold.ttf');
export const PDF_FONTS = { plain: FONT, strong: STRONG } as const;
export const PDF_MARGIN = 48;
export const PDF_SIZE = { title: 18, head: 13, text: 10.5 } as const;

/** A page of A4 to write on. */
export interface Pdf {
  readonly page: PDFKit.PDFDocument;
  readonly width: number;
  readonly text: (value: string, size?: number, font?: string) => void;
  /** Ends it. @returns the file */
  readonly end: () => Promise<Buffer>;
}

/** The library is fetched once a file is written: it takes a fifth of a second of a thread's start. */
export async function newPdf(title: string): Promise<Pdf> {
  const { default: PdfDocument } = await import('pdfkit');
  const page = new PdfDocument({
    size: 'A4',
    margin: PDF_MARGIN,
    info: { Title: title, Producer: 'Hostler' },
  });
  const parts: Buffer[] = [];
  const ended = new Promise<Buffer>((resolve, reject) => {
    page.on('data', (part: Buffer) => parts.push(part));
    page.on('end', () => resolve(Buffer.concat(parts)));
    page.on('error', reject);
  });
  const width = page.page.width - 2 * PDF_MARGIN;
  return {
    page,
    width,
    text: (value, size = PDF_SIZE.text, font = FONT) => {
      page.font(font).fontSize(size).text(value, { width });
    },
    end: () => {
      page.end();
      return ended;
    },
  };
}
