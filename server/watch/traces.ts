import { collectorAt, NO_COLLECTOR } from './collector';

/** Steps that wait to be delivered at most; more are let go of. */
const MOST_WAITING = 4096;
const SEND_EVERY_MS = 2000;
/** The longest that a delivery may take, and the end of a server wait for it. */
const DELIVER_MS = 3000;

export interface Traces {
  /** Delivers what waits, and traces nothing more. */
  readonly close: () => Promise<void>;
}

/**
 * Has traces delivered to a collector (OTLP over HTTP, as JSON).
 * @param url of the collector, such as `http://127.0.0.1:4318/v1/traces`
 * @param onFault told what keeps them from being delivered
 * @throws where the address is none
 */
export async function openTraces(
  url: string,
  version: string,
  onFault: (why: string) => void,
): Promise<Traces> {
  if (!collectorAt(url)) throw new Error(NO_COLLECTOR);
  // Fetched where they are wanted only.
  const [
    { setGlobalErrorHandler },
    { OTLPTraceExporter },
    { resourceFromAttributes },
    { BatchSpanProcessor, NodeTracerProvider },
  ] = await Promise.all([
    import('@opentelemetry/core'),
    import('@opentelemetry/exporter-trace-otlp-http'),
    import('@opentelemetry/resources'),
    import('@opentelemetry/sdk-trace-node'),
  ]);
  setGlobalErrorHandler((error) =>
    onFault(String((error as { message?: unknown } | null)?.message ?? 'not delivered')),
  );
  const provider = new NodeTracerProvider({
    resource: resourceFromAttributes({ 'service.name': 'hostler', 'service.version': version }),
    spanProcessors: [
      new BatchSpanProcessor(new OTLPTraceExporter({ url, timeoutMillis: DELIVER_MS }), {
        maxQueueSize: MOST_WAITING,
        scheduledDelayMillis: SEND_EVERY_MS,
        exportTimeoutMillis: DELIVER_MS,
      }),
    ],
  });
  provider.register();
  let closing: Promise<void> | null = null;
  return {
    close: () => {
      let timer: ReturnType<typeof setTimeout> | undefined;
      closing ??= Promise.race([
        provider.shutdown(),
        new Promise<void>((resolve) => (timer = setTimeout(resolve, DELIVER_MS))),
      ])
        .catch(() => onFault('not delivered at the end'))
        .finally(() => clearTimeout(timer));
      return closing;
    },
  };
}
