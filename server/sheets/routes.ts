import type { Sheet } from '../../api/sheets';
import { parts } from '../../core/estate';
import { EVERY_ROLE, notRight } from '../base';
import { checkedBody, type Route } from '../http';
import { sheetAsPdf } from './pdf';

/** A code of more than this is not read by a camera from paper. */
const MOST_CODE = 600;
const MOST_STEPS = 60;
/** Of a set-up to be read: its parts, and the lines of each. */
const MOST_PARTS = 100;
const MOST_LINES = 200;

const schema = parts.closed({
  title: parts.requiredText(200),
  note: parts.text(500),
  code: parts.text(MOST_CODE),
  steps: parts
    .requiredList(
      parts.closed({
        says: parts.requiredText(500),
        menus: parts.list(parts.text(100)).max(12, 'are too many'),
        value: parts.text(300),
        expect: parts.text(500),
      }),
    )
    .max(MOST_STEPS, `are more than ${MOST_STEPS}`),
  parts: parts
    .list(
      parts.closed({
        title: parts.requiredText(200),
        lines: parts.requiredList(parts.requiredText(4000)).max(MOST_LINES, `are more than ${MOST_LINES}`),
      }),
    )
    .max(MOST_PARTS, `are more than ${MOST_PARTS}`),
});

export const sheetRoutes: readonly Route[] = [
  {
    /** What stands on the screen as a PDF; nothing of it is kept. */
    method: 'POST',
    path: '/api/sheet',
    roles: EVERY_ROLE,
    handle: async ({ body }) => {
      const sheet = checkedBody<Sheet>(body, schema);
      if (sheet.steps.length === 0 && !sheet.parts?.length)
        throw notRight([{ path: 'steps', message: 'are none' }]);
      if (sheet.code === '') throw notRight([{ path: 'code', message: 'is empty' }]);
      return {
        bytes: await sheetAsPdf(sheet),
        headers: {
          'Content-Type': 'application/pdf',
          'Content-Disposition': 'attachment; filename="sheet.pdf"',
        },
      };
    },
  },
];
