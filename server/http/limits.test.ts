import { createServer, type Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import type { Logger } from 'pino';
import { HTTP_LIMITS, limitServer } from './limits';

const lines: string[] = [];
const log = { warn: (_about: object, what: string) => lines.push(what) } as unknown as Logger;
let server: Server;
let port = 0;
beforeAll(async () => {
  const soon = { headersTimeout: 300, requestTimeout: 600, connectionsCheckingInterval: 50 };
  server = createServer({ ...HTTP_LIMITS, ...soon }, (request, response) => {
    request.resume().on('end', () => response.end('here'));
  });
  limitServer(server, log);
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  port = (server.address() as AddressInfo).port;
});
afterAll(() => new Promise((done) => server.close(done)));
beforeEach(() => lines.splice(0));

/** Sends a text a byte at a time until it has all gone or the far end closes. @returns all that came back */
const drip = (text: string): Promise<string> =>
  new Promise((done) => {
    let got = '';
    let at = 0;
    const socket = connect(port, '127.0.0.1');
    const timer = setInterval(() => {
      if (at < text.length) socket.write(text[at]!);
      at += 1;
    }, 40);
    socket.on('data', (data) => (got += data.toString()));
    socket.on('error', () => undefined);
    socket.on('close', () => {
      clearInterval(timer);
      done(got);
    });
  });
const ask = async () => (await fetch(`http://127.0.0.1:${port}/`)).text();

test('headers that come a byte at a time are cut off and told, and others are served meanwhile', async () => {
  const slow = drip(`GET / HTTP/1.1\r\nHost: x\r\nX-Long: ${'a'.repeat(500)}\r\n\r\n`);
  expect(await ask()).toBe('here');
  expect(await slow).toMatch(/^HTTP\/1\.1 408 /);
  expect(lines).toEqual(['a request came too slowly and was cut off']);
});

test('so is a body that never ends, and what is no request', async () => {
  const head = 'POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 1000\r\n\r\n';
  const body = new Promise<string>((done) => {
    let got = '';
    const socket = connect(port, '127.0.0.1', () => socket.write(head));
    socket.on('data', (data) => (got += data.toString()));
    socket.on('close', () => done(got));
  });
  expect(await body).toMatch(/^HTTP\/1\.1 408 /);
  const none = await new Promise<string>((done) => {
    let got = '';
    const socket = connect(port, '127.0.0.1', () => socket.write('\u0000\u0001 hello\r\n\r\n'));
    socket.on('data', (data) => (got += data.toString()));
    socket.on('close', () => done(got));
  });
  expect(none).toMatch(/^HTTP\/1\.1 400 /);
  expect(lines).toEqual(['a request came too slowly and was cut off', 'what is no request was cut off']);
});

test('the log does not grow with what is sent', async () => {
  const send = () =>
    new Promise<void>((done) => {
      const socket = connect(port, '127.0.0.1', () => socket.write('nothing\r\n\r\n'));
      socket.resume().on('close', () => done());
    });
  await Promise.all(Array.from({ length: 60 }, send));
  expect(lines.length).toBeLessThanOrEqual(20);
  expect(await ask()).toBe('here');
});
