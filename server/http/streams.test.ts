import { EventEmitter } from 'node:events';
import type { Response } from 'express';
import type { Account } from '../base';
import type { Db } from '../db';
import { openStreams } from './streams';

/** The far end of a stream, which is open until it is closed. */
function page() {
  const events = new EventEmitter();
  const response = Object.assign(events, {
    writableEnded: false,
    writableLength: 0,
    writeHead: () => response,
    write: () => true,
    destroy: () => events.emit('close'),
    end: () => {
      response.writableEnded = true;
      events.emit('close');
    },
  });
  return response;
}
const account = (id: number) =>
  ({ id, session: id, role: 'specialist', name: `a${id}`, person: null }) as unknown as Account;
const NO_DB = {} as Db;

test('of ten thousand pages that want to follow what happens some are taken, and the others are told why not', () => {
  const streams = openStreams();
  const open: ReturnType<typeof page>[] = [];
  const refused = new Map<string, number>();
  let going = 0;
  for (let n = 0; n < 10_000; n += 1) {
    const response = page();
    try {
      streams.open(
        response as unknown as Response,
        NO_DB,
        { account: account(n % 5000), token: `t${n}` },
        (_send, onClosed) => {
          going += 1;
          onClosed(() => (going -= 1));
        },
      );
      open.push(response);
    } catch (error) {
      const { status, message } = error as { status: number; message: string };
      refused.set(`${status} ${message}`, (refused.get(`${status} ${message}`) ?? 0) + 1);
    }
  }
  expect([streams.count(), open.length, going]).toEqual([2000, 2000, 2000]);
  expect([...refused]).toEqual([
    [
      '503 Too many pages follow what happens at this server. Yours is up to date when it is loaded again.',
      8000,
    ],
  ]);
  // Whoever closes a page makes room for another; nothing of any is left at the end.
  open[0]!.end();
  expect([streams.count(), going]).toEqual([1999, 1999]);
  streams.open(page() as unknown as Response, NO_DB, { account: account(1), token: 't' }, () => undefined);
  streams.endAll();
  expect([streams.count(), going]).toEqual([0, 0]);
});

test('one account has some of them, and is told to close others', () => {
  const streams = openStreams();
  const one = () =>
    streams.open(page() as unknown as Response, NO_DB, { account: account(1), token: 't' }, () => undefined);
  for (let n = 0; n < 24; n += 1) one();
  expect(one).toThrow('24 pages of yours follow what happens already.');
  streams.end({ account: 1 });
  expect(streams.count()).toBe(0);
});
