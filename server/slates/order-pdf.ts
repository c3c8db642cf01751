import { newPdf, PDF_FONTS, PDF_MARGIN as MARGIN, PDF_SIZE as SIZE } from '../base';
import { sayStep, type OrderHead, type WorkOrder } from '../../core/changes/work-order';

const BOX = 10;

/** A work order as a PDF to print: a box to tick beside each step. */
export async function orderAsPdf(
  head: OrderHead,
  { steps, gaps }: WorkOrder,
  done: ReadonlySet<string>,
): Promise<Buffer> {
  const { page, width, text, end } = await newPdf(head.name);
  text(head.name, SIZE.title, PDF_FONTS.strong);
  text(`${head.organisation}, ${head.date}`, SIZE.text);
  if (head.note) {
    page.moveDown(0.5);
    text(head.note, SIZE.text);
  }
  for (const gap of gaps) {
    page.moveDown(0.5);
    text(gap, SIZE.text, PDF_FONTS.strong);
  }
  let whose = '';
  steps.forEach((step, i) => {
    if (step.whose !== whose) {
      whose = step.whose;
      page.moveDown();
      text(whose, SIZE.head, PDF_FONTS.strong);
    }
    const words = `${i + 1}. ${sayStep(step)}`;
    page.font(step.kind === 'test' ? PDF_FONTS.strong : PDF_FONTS.plain).fontSize(SIZE.text);
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
  return end();
}
