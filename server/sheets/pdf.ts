import { create } from 'qrcode';
import type { Sheet } from '../../api/sheets';
import { newPdf, PDF_FONTS, PDF_MARGIN, PDF_SIZE } from '../base';

/** A dot of the code, and the quiet zone around it (ISO/IEC 18004: four dots). */
const CODE_PT = 150;
const QUIET = 4;
const INDENT = 22;

/** A sheet as a PDF to print: the code first, then each step with what is typed. */
export async function sheetAsPdf({ title, note, code, steps, parts = [] }: Sheet): Promise<Buffer> {
  const { page, width, text, end } = await newPdf(title);
  text(title, PDF_SIZE.title, PDF_FONTS.strong);
  if (note) {
    page.moveDown(0.3);
    text(note);
  }
  if (code !== undefined) {
    const { modules } = create(code, { errorCorrectionLevel: 'M' });
    const dot = CODE_PT / (modules.size + 2 * QUIET);
    const top = page.y + 8;
    for (let y = 0; y < modules.size; y += 1)
      for (let x = 0; x < modules.size; x += 1)
        if (modules.get(y, x)) page.rect(PDF_MARGIN + (x + QUIET) * dot, top + (y + QUIET) * dot, dot, dot);
    page.fill('#000000');
    page.y = top + CODE_PT + 4;
    page.x = PDF_MARGIN;
    text(code, 8);
  }
  steps.forEach(({ says, menus, value, expect }, i) => {
    const lines: readonly (readonly [string, string])[] = [
      [says, PDF_FONTS.plain],
      ...(menus && menus.length > 0 ? [[menus.join(' › '), PDF_FONTS.plain] as const] : []),
      ...(value === undefined ? [] : [[value, PDF_FONTS.strong] as const]),
      ...(expect ? [[expect, PDF_FONTS.plain] as const] : []),
    ];
    page.fontSize(PDF_SIZE.text);
    const height = lines.reduce(
      (sum, [words, font]) => sum + page.font(font).heightOfString(words, { width: width - INDENT }),
      0,
    );
    page.moveDown(0.5);
    if (page.y + height > page.page.height - PDF_MARGIN) page.addPage();
    const top = page.y;
    page.font(PDF_FONTS.plain).text(`${i + 1}.`, PDF_MARGIN, top, { width: INDENT, lineBreak: false });
    page.y = top;
    for (const [words, font] of lines)
      page.font(font).text(words, PDF_MARGIN + INDENT, page.y, { width: width - INDENT });
    page.x = PDF_MARGIN;
  });
  for (const part of parts) {
    page.moveDown(0.7);
    // A heading is not left alone at the foot of a page.
    page.font(PDF_FONTS.plain).fontSize(PDF_SIZE.text);
    const first = page.heightOfString(part.lines[0] ?? '', { width });
    if (page.y + first + 2 * PDF_SIZE.head > page.page.height - PDF_MARGIN) page.addPage();
    text(part.title, PDF_SIZE.head, PDF_FONTS.strong);
    for (const line of part.lines) text(line);
  }
  return end();
}
