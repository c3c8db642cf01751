import PdfDocument from 'pdfkit';
import { sayStep, type OrderHead, type WorkOrder } from '../../core/changes/work-order';

const FONT =
  require.resolve('@expo-google-fonts/atkinson-hyperlegible/400Regular/AtkinsonHyperlegible_400Regular.ttf');
const STRONG =
  require.resolve('@expo-google-fonts/atkinson-hyperlegible/700Bold/AtkinsonHyperlegible_700Bold.ttf');
const MARGIN = 48;
const BOX = 10;
const SIZE = { title: 18, head: 13, text: 10.5 } as const;

/** A work order as a PDF to print: a box to tick beside each step. */
export function orderAsPdf(
  head: OrderHead,
  { steps, gaps }: WorkOrder,
  done: ReadonlySet<string>,
): Promise<Buffer> {
  const page = new PdfDocument({
    size: 'A4',
    margin: MARGIN,
    info: { Title: head.name, Producer: 'Hostler' },
  });
  const parts: Buffer[] = [];
  const ended = new Promise<Buffer>((resolve, reject) => {
    page.on('data', (part: Buffer) => parts.push(part));
    page.on('end', () => resolve(Buffer.concat(parts)));
    page.on('error', reject);
  });
  const width = page.page.width - 2 * MARGIN;
  const text = (value: string, size: number, font = FONT) =>
    page.font(font).fontSize(size).text(value, { width });
  text(head.name, SIZE.title, STRONG);
  text(`${head.organisation}, ${head.date}`, SIZE.text);
  if (head.note) {
    page.moveDown(0.5);
    text(head.note, SIZE.text);
  }
  for (const gap of gaps) {
    page.moveDown(0.5);
    text(gap, SIZE.text, STRONG);
  }
  let whose = '';
  steps.forEach((step, i) => {
    if (step.whose !== whose) {
      whose = step.whose;
      page.moveDown();
      text(whose, SIZE.head, STRONG);
    }
    const words = `${i + 1}. ${sayStep(step)}`;
    page.font(step.kind === 'test' ? STRONG : FONT).fontSize(SIZE.text);
    const height = page.heightOfString(words, { width: width - BOX - 8 });
    if (page.y + height > page.page.height - MARGIN) page.addPage();
    const top = page.y + 2;
    page.lineWidth(0.8).rect(MARGIN, top, BOX, BOX).stroke();
    if (done.has(step.id))
      page
        .moveTo(MARGIN + 2, top + 5)
        .lineTo(MARGIN + 4, top + 8)
        .lineTo(MARGIN + 8, top + 2)
        .stroke();
    page.text(words, MARGIN + BOX + 8, page.y, { width: width - BOX - 8 });
    page.x = MARGIN;
    page.moveDown(0.3);
  });
  page.end();
  return ended;
}
