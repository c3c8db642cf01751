import { DateTime } from 'luxon';
import { parts } from '../../core/estate';
import {
  orderAsCsv,
  orderAsMarkdown,
  workOrder,
  type OrderHead,
  type WorkOrder,
} from '../../core/changes/work-order';
import { checkedBody, type Route, type SignedIn } from '../http';
import { refusal, ROLES } from '../base';
import { orderAsPdf } from './order-pdf';
import { slateOf } from './access';
import { doneSteps, readEntries, tickStep } from './queries';
import { zoneNamed } from '../../core/zones';

interface Ordered {
  readonly head: OrderHead;
  readonly order: WorkOrder;
  readonly done: ReadonlyMap<string, string>;
}

async function orderOf(context: SignedIn): Promise<Ordered & { readonly id: number }> {
  const { services } = context;
  const slate = await slateOf(context);
  const { id } = slate;
  const { estate } = await services.store.current();
  const entries = await readEntries(services.db, id);
  const now = services.now();
  return {
    id,
    order: workOrder(estate, entries, now.getTime()),
    done: await doneSteps(services.db, id),
    head: {
      name: slate.name,
      organisation: estate.name,
      note: slate.note,
      date: DateTime.fromJSDate(now, { zone: zoneNamed(estate.timeZone) }).toISODate() ?? '',
    },
  };
}

const tickSchema = parts.closed({ step: parts.requiredText(400), done: parts.flag().required('is missing') });
const file = (name: string, type: string) => ({
  'Content-Type': type,
  'Content-Disposition': `attachment; filename="${name}"`,
});

export const orderRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/slates/:slate/order',
    roles: ROLES,
    handle: async (context) => {
      const { order, done, head } = await orderOf(context);
      return {
        body: {
          head,
          gaps: order.gaps,
          steps: order.steps.map((step) => ({ ...step, doneBy: done.get(step.id) ?? null })),
        },
      };
    },
  },
  {
    method: 'PUT',
    path: '/api/slates/:slate/order',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const { step, done } = checkedBody<{ step: string; done: boolean }>(context.body, tickSchema);
      const { order, id } = await orderOf(context);
      if (!order.steps.some((each) => each.id === step)) throw refusal(404, 'There is no such step.');
      await tickStep(context.services.db, id, step, done, context.account.name, context.services.now());
      return { status: 204 };
    },
  },
  {
    method: 'GET',
    path: '/api/slates/:slate/order/:form',
    roles: ['specialist'],
    handle: async (context) => {
      const { head, order, done } = await orderOf(context);
      const ticked = new Set(done.keys());
      switch (context.params.form ?? '') {
        case 'md':
          return {
            text: orderAsMarkdown(head, order, ticked),
            headers: file('work-order.md', 'text/markdown; charset=utf-8'),
          };
        case 'csv':
          return {
            text: orderAsCsv(order, ticked),
            headers: file('work-order.csv', 'text/csv; charset=utf-8'),
          };
        case 'pdf':
          return {
            bytes: await orderAsPdf(head, order, ticked),
            headers: file('work-order.pdf', 'application/pdf'),
          };
        default:
          throw refusal(404, 'There is nothing here.');
      }
    },
  },
];
