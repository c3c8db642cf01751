import {
  context,
  propagation,
  ROOT_CONTEXT,
  SpanKind,
  SpanStatusCode,
  trace,
  type Attributes,
} from '@opentelemetry/api';

// Where no collector is named, none of this does anything.
const tracer = () => trace.getTracer('hostler');

/** Does a piece of work as a step of what is traced around it; where nothing is, it is done alone. */
export async function traced<T>(name: string, attributes: Attributes, work: () => Promise<T>): Promise<T> {
  if (trace.getActiveSpan() === undefined) return work();
  return tracer().startActiveSpan(name, { kind: SpanKind.CLIENT, attributes }, async (span) => {
    try {
      return await work();
    } catch (error) {
      // What went wrong may name people: the kind of fault alone is told.
      span.setStatus({ code: SpanStatusCode.ERROR });
      span.setAttribute('error.type', (error as { code?: string }).code ?? (error as Error).name);
      throw error;
    } finally {
      span.end();
    }
  });
}

export interface TracedRequest {
  readonly method: string;
  /** Its path as a pattern: what was asked is told to nobody. */
  readonly route: string;
  /** By which it is named in the log. */
  readonly id: string;
  readonly headers: Readonly<Record<string, string | readonly string[] | undefined>>;
}
/**
 * Answers a request as a trace of its own, or as part of the one that it came with (W3C Trace Context; names by
 * OpenTelemetry's conventions for HTTP).
 * @param onEnd told what is to be called when it is over, with its status
 */
export function tracedRequest<T>(
  { method, route, id, headers }: TracedRequest,
  onEnd: (then: (status: number) => void) => void,
  work: () => T,
): T {
  const parent = propagation.extract(ROOT_CONTEXT, headers);
  const span = tracer().startSpan(
    `${method} ${route}`,
    {
      kind: SpanKind.SERVER,
      attributes: { 'http.request.method': method, 'http.route': route, 'hostler.request': id },
    },
    parent,
  );
  onEnd((status) => {
    span.setAttribute('http.response.status_code', status);
    if (status >= 500) span.setStatus({ code: SpanStatusCode.ERROR });
    span.end();
  });
  return context.with(trace.setSpan(parent, span), work);
}

const TABLE = /\b(?:from|into|update|table)\s+`?(\w{1,64})`?/i;
/** What a statement does, without what it asks for: `SELECT person`. */
export function summaryOf(statement: unknown): string {
  const text = typeof statement === 'string' ? statement : ((statement as { sql?: string })?.sql ?? '');
  const verb = /^\s*(\w{1,20})/.exec(text)?.[1]?.toUpperCase() ?? 'statement';
  const table = TABLE.exec(text.slice(0, 4000))?.[1];
  return table ? `${verb} ${table}` : verb;
}
