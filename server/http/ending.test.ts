import { createServer, Agent, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import { endGently } from './ending';

test('what is worked on is answered; idle connections are closed, and nobody new is taken in', async () => {
  let answer: () => void = () => undefined;
  const asked = new Promise<void>((begun) => {
    answer = begun;
  });
  let go: () => void = () => undefined;
  const server = createServer((incoming, response) => {
    if (incoming.url === '/quick') return void response.end('quick');
    go = () => response.end('kept');
    answer();
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  const agent = new Agent({ keepAlive: true });
  const ask = (path: string) =>
    new Promise<string>((done, failed) => {
      request({ port, host: '127.0.0.1', path, agent }, (response) => {
        let text = '';
        response.on('data', (part: Buffer) => (text += part.toString()));
        response.on('end', () => done(text));
      })
        .on('error', failed)
        .end();
    });
  const slow = ask('/slow');
  await asked;
  // A second connection, idle but kept open.
  expect(await ask('/quick')).toBe('quick');
  let isOver = false;
  const ended = endGently(server, 60_000).then(() => (isOver = true));
  await expect(ask('/late')).rejects.toThrow(/ECONNREFUSED|ECONNRESET|socket hang up/);
  expect(isOver).toBe(false);
  go();
  expect(await slow).toBe('kept');
  await ended;
  agent.destroy();
});

test('what takes too long is cut off', async () => {
  const server = createServer(() => undefined);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  const cut = new Promise<string>((done) => {
    request({ port, host: '127.0.0.1' })
      .on('error', (error) => done(error.message))
      .end();
  });
  await new Promise<void>((done) => server.once('connection', () => done()));
  await endGently(server, 50);
  expect(await cut).toMatch(/hang up|ECONNRESET/);
});
