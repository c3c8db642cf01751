import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';
import { openTraces, type Traces } from './traces';

interface Span {
  readonly traceId: string;
  readonly spanId: string;
  readonly parentSpanId?: string;
  readonly name: string;
  readonly kind: number;
  readonly attributes: readonly { readonly key: string; readonly value: { readonly stringValue?: string } }[];
  readonly status: { readonly code?: number };
}
const TRACE = '0af7651916cd43dd8448eb211c80319c';
const PARENT = 'b7ad6b7169203331';

/** A collector that takes whatever is delivered. */
let collector: Server;
let bodies: string[] = [];
let server: TestServer;
let traces: Traces;
const faults: string[] = [];
beforeAll(async () => {
  collector = createServer((request, response) => {
    let body = '';
    request.on('data', (data: Buffer) => (body += data.toString()));
    request.on('end', () => {
      bodies.push(body);
      response.writeHead(200, { 'Content-Type': 'application/json' }).end('{}');
    });
  });
  await new Promise<void>((resolve) => collector.listen(0, '127.0.0.1', resolve));
  const { port } = collector.address() as AddressInfo;
  traces = await openTraces(`http://127.0.0.1:${port}/v1/traces`, '1.0.0', (why) => faults.push(why));
  server = await testServer();
});
afterAll(async () => {
  await server.stop();
  await traces.close();
  await new Promise((resolve) => collector.close(resolve));
});
const spans = (): readonly Span[] =>
  bodies.flatMap((body) =>
    (JSON.parse(body) as { resourceSpans: { scopeSpans: { spans: Span[] }[] }[] }).resourceSpans.flatMap(
      ({ scopeSpans }) => scopeSpans.flatMap((each) => each.spans),
    ),
  );
const valueOf = ({ attributes }: Span, key: string) => attributes.find((each) => each.key === key)?.value;

const theRequest = () => until(() => spans().find(({ name }) => name === 'GET /api/people/:id') ?? null);

test('an address that is none is refused before anything is traced', async () => {
  for (const url of ['nowhere', 'ftp://127.0.0.1/', ''])
    await expect(openTraces(url, '1', () => undefined)).rejects.toThrow('HOSTLER_TRACES_URL is no address');
});

test('a request is part of the trace that it came with, its statements are its steps, and nobody is named in it', async () => {
  bodies = [];
  const { status, headers } = await server.ask('GET', '/api/people/ines', {
    as: 'specialist',
    headers: { traceparent: `00-${TRACE}-${PARENT}-01` },
  });
  expect(status).toBe(200);
  const request = await theRequest();
  expect(request).toMatchObject({ traceId: TRACE, parentSpanId: PARENT });
  expect(valueOf(request, 'http.response.status_code')).toEqual({ intValue: 200 });
  expect(valueOf(request, 'hostler.request')?.stringValue).toBe(headers.get('x-request-id'));
  const steps = spans().filter(({ parentSpanId }) => parentSpanId === request.spanId);
  expect(steps.map(({ name }) => name)).toContain('SELECT session');
  expect(new Set(steps.map(({ traceId }) => traceId))).toEqual(new Set([TRACE]));
  // Neither who was asked for nor who asked stands anywhere, nor what a statement was asked with.
  // Times and marks that are drawn may have any figures and letters.
  const said = bodies
    .join('')
    .replaceAll(/"(?:\w+TimeUnixNano|traceId|spanId|parentSpanId)":"\w+"/g, '')
    .replaceAll(/"hostler\.request","value":\{[^}]*\}/g, '');
  expect(said).toContain('POST /api/session');
  expect(said).not.toMatch(/ines|Okafor|4101|WHERE/i);
});

test('what is refused is no fault of the server, and a step without a request is traced by nobody', async () => {
  bodies = [];
  await server.db.query('SELECT 1');
  expect((await server.ask('GET', '/api/people/gone', { as: 'specialist' })).status).toBe(404);
  const request = await theRequest();
  expect(valueOf(request, 'http.response.status_code')).toEqual({ intValue: 404 });
  expect(request.status.code ?? 0).toBe(0);
  expect(spans().filter(({ parentSpanId, kind }) => parentSpanId === undefined && kind !== 2)).toEqual([]);
});

test('a stream of events is over, as a trace, once it is open', async () => {
  bodies = [];
  const gone = new AbortController();
  const stream = await fetch(`${server.url}/api/events`, {
    headers: { cookie: server.cookies.specialist },
    signal: gone.signal,
  });
  expect(stream.status).toBe(200);
  const span = await until(() => spans().find(({ name }) => name === 'GET /api/events') ?? null);
  expect(valueOf(span, 'http.response.status_code')).toEqual({ intValue: 200 });
  gone.abort();
});

test('with a collector that is away requests are answered, and the end does not wait for it', async () => {
  collector.closeAllConnections();
  await new Promise((resolve) => collector.close(resolve));
  expect((await server.ask('GET', '/api/people/ines', { as: 'specialist' })).status).toBe(200);
  await traces.close();
  expect(faults.length).toBeGreaterThan(0);
});
