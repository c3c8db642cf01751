import express, { type Response } from 'express';
import type { AddressInfo } from 'node:net';
import { sendChunks } from './chunks';

/** What somebody gets who asks for chunks, and how it ended. */
async function asked(answer: (response: Response) => Promise<void>, take?: number) {
  const app = express();
  app.get('/', (_request, response, next) => {
    answer(response).catch(next);
  });
  app.use((_error: unknown, _request: unknown, response: Response, _next: unknown) => {
    if (!response.headersSent) response.status(500).send('told');
  });
  const server = app.listen(0, '127.0.0.1');
  await new Promise<void>((done) => server.once('listening', () => done()));
  const response = await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
  const reader = response.body!.getReader();
  let text = '';
  let end = 'whole';
  try {
    for (let parts = 0; take === undefined || parts < take; parts += 1) {
      const { value, done } = await reader.read();
      if (done) break;
      text += new TextDecoder().decode(value);
    }
    if (take !== undefined) await reader.cancel();
  } catch {
    end = 'broken off';
  }
  server.closeAllConnections();
  await new Promise<void>((done) => server.close(() => done()));
  return { status: response.status, text, end };
}

async function* counting(upTo: number, breaksAt = Infinity): AsyncGenerator<string> {
  for (let n = 0; n < upTo; n += 1) {
    if (n === breaksAt) throw new Error('the database is gone');
    await Promise.resolve();
    yield `${n}\n`;
  }
}

test('all of it comes, in order', async () => {
  const { text, end } = await asked((response) => sendChunks(response, counting(20_000)));
  expect([text.split('\n').length, text.slice(0, 6), end]).toEqual([20_001, '0\n1\n2\n', 'whole']);
});

test('what breaks on the way is broken off, so that nobody takes it for whole', async () => {
  expect((await asked((response) => sendChunks(response, counting(20_000, 9000)))).end).toBe('broken off');
});

test('what breaks before anything was sent is told', async () => {
  expect(await asked((response) => sendChunks(response, counting(5, 0)))).toMatchObject({
    status: 500,
    text: 'told',
  });
});

test('whoever goes away is not written for any more', async () => {
  let made = 0;
  const endless = async function* () {
    // More than connections hold, and with an end.
    for (made = 0; made < 5000; made += 1) yield 'x'.repeat(64 << 10);
  };
  let isOver: () => void = () => undefined;
  const over = new Promise<void>((done) => (isOver = done));
  await asked((response) => sendChunks(response, endless()).finally(isOver), 2);
  await over;
  expect(made).toBeLessThan(5000);
});
