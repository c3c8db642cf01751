import type { MoveTimes, Settings, TollGuard } from './organisation-types';
import type { E164, Endpoint, EndpointKind, Line, Ms, SimpleEnding } from './types';

/** Settings with nothing left out. */
export interface FullSettings extends Required<Omit<Settings, 'move' | 'number'>> {
  /** There is no other to show where it is left out. */
  readonly number?: E164;
  readonly move: MoveTimes;
  readonly fraudProtection: TollGuard;
}

/** The organisation's settings where the estate file leaves them out. */
export const DEFAULT_SETTINGS: FullSettings = {
  ringMs: 6000,
  confirmWithinMs: 10_000,
  recordNameMs: 4000,
  hopLimit: 10,
  move: { heldMs: 45_000, sendForMs: 20_000, toDesk: '*1', transfer: '*2' },
  servers: {},
  fraudProtection: { prefixes: [] },
  desks: { graceS: 900 },
};

/** Time from dialling to alerting by kind of endpoint, in ms. */
export const SETUP_MS: Record<EndpointKind, Ms> = {
  desk: 200,
  'desktop-app': 200,
  'remote-desk': 200,
  'hot-desk': 200,
  'mobile-app': 1200,
  mobile: 5200,
  landline: 2200,
  sip: 500,
};
export const MOBILE_MAILBOX_AFTER_MS: Ms = 20_000;
export const OFF_ANSWER_MS: Ms = 1800;
export const WAKE_MS: Ms = 3600;

/** Whether calls to this kind of endpoint are dialled out to a public number. */
export const isNumberKind = (kind: EndpointKind): boolean => kind === 'mobile' || kind === 'landline';

/** How an endpoint behaves with every default filled in; times in ms. */
export interface EndpointTimes {
  readonly setupMs: Ms;
  /** The carrier's voicemail, from alerting; null: none. */
  readonly mailboxAfterMs: Ms | null;
  readonly offAnswerMs: Ms;
  readonly wakes: boolean;
  readonly wakeMs: Ms;
}

/** The times of an endpoint, defaults by kind filled in. */
export function endpointTimes(
  endpoint: Pick<Endpoint, 'kind' | 'setupMs' | 'mailboxAfterMs' | 'offAnswerMs' | 'wakes' | 'wakeMs'>,
): EndpointTimes {
  const carrier = endpoint.kind === 'mobile' ? MOBILE_MAILBOX_AFTER_MS : null;
  return {
    setupMs: endpoint.setupMs ?? SETUP_MS[endpoint.kind],
    mailboxAfterMs: !isNumberKind(endpoint.kind)
      ? null
      : endpoint.mailboxAfterMs === undefined
        ? carrier
        : endpoint.mailboxAfterMs,
    offAnswerMs: endpoint.offAnswerMs ?? OFF_ANSWER_MS,
    wakes: endpoint.wakes ?? true,
    wakeMs: endpoint.wakeMs ?? WAKE_MS,
  };
}

/** Settings with every default filled in. */
export const settingsOf = (settings: Settings | undefined): FullSettings => ({
  ...DEFAULT_SETTINGS,
  ...settings,
  move: { ...DEFAULT_SETTINGS.move, ...settings?.move },
  desks: { ...DEFAULT_SETTINGS.desks, ...settings?.desks },
});

/**
 * Where a line is forwarded to at a moment, null if nowhere: a forward that has a time ends by itself then.
 * @param epochMs ms since 1970
 */
export function forwardAt(line: Line, epochMs: number): SimpleEnding | null {
  if (!line.forwardAll || line.forwardUntil === undefined) return line.forwardAll ?? null;
  return epochMs < Date.parse(line.forwardUntil) ? line.forwardAll : (line.forwardAfter ?? null);
}
