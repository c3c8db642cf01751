import { showNumber } from '../dialling';
import type { Difference } from '../estate';

const FIELDS: Record<string, string> = {
  name: 'name',
  status: 'status',
  permission: 'permission',
  number: 'number',
  numbers: 'number',
  delayMs: 'delay',
  forMs: 'ring time',
  acceptAfterMs: 'guard',
  giveUpAfterMs: 'gives up after',
  confirm: 'accepted by key',
  enabled: 'rings',
  schedule: 'hours',
  ending: 'ending',
  forwardAll: 'always-forward',
  plan: 'reach plan',
  otherwise: 'last treatment',
  endpoints: 'phone',
  lines: 'line',
  rules: 'rule',
  ring: 'rings',
  stages: 'stage',
  mode: 'order of ringing',
  members: 'member',
  ringMs: 'rings for',
  maxCalls: 'calls at once',
  extension: 'extension',
  when: 'condition',
  busy: 'when engaged',
  template: 'template',
  mailbox: 'mailbox',
  forwardUntil: 'always-forward until',
  order: 'order',
  firmware: 'firmware',
  hardwareAddress: 'hardware address',
  passwordChanged: 'factory password changed',
  natMethod: 'way through routers',
  letIn: 'let in from outside',
  signedOn: 'signed on',
  sipHelper: 'what the router does to SIP',
  stableAddress: 'address stays the same',
  relay: 'branch relay',
  model: 'model',
  site: 'site',
  endpoint: 'used as',
  keys: 'key',
  use: 'what the key is for',
  places: 'places calls from',
  host: 'server',
  port: 'port',
  transport: 'how SIP is carried',
  acts: 'what the code does',
};

/** A path of a change in the words of the trade: the thing, then the setting. */
export function sayPath(path: string): string {
  const names = [...path.matchAll(/\[([^\]]+)\]/g)]
    .map((match) => match[1])
    .filter((name) => name && !/^\d+$/.test(name));
  const last = path
    .replace(/\[[^\]]*\]/g, '')
    .split('.')
    .filter(Boolean);
  const field = [...last].reverse().find((part) => FIELDS[part]);
  return [names.join(', '), field ? FIELDS[field] : last.at(-1)].filter(Boolean).join(': ');
}

/** A value of a setting, short. */
export function sayValue(value: unknown): string {
  if (value === undefined || value === null) return 'none';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (typeof value === 'number') return value >= 100 ? `${value / 1000} s` : String(value);
  if (typeof value === 'string') return /^\+\d+$/.test(value) ? showNumber(value) : value;
  if (Array.isArray(value) && value.every((each) => typeof each === 'string')) return value.join(', ');
  if (typeof value === 'object' && !Array.isArray(value)) {
    const { name, kind, person, number, group, menu, endpoint } = value as Record<string, unknown>;
    if (typeof name === 'string') return `“${name}”`;
    if (typeof kind === 'string')
      return [kind, person ?? number ?? group ?? menu ?? endpoint].filter(Boolean).join(' ');
  }
  const text = JSON.stringify(value);
  return text.length > 80 ? `${text.slice(0, 79)}…` : text;
}

const isNamed = (value: unknown): boolean =>
  typeof value === 'string' ||
  (typeof value === 'object' && value !== null && typeof (value as { name?: unknown }).name === 'string');

/** Where something changed, in words; of a whole thing with a name that comes or goes, what it is. */
export function sayWhere({ path, before, after }: Difference): string {
  const field =
    FIELDS[
      path
        .replace(/\[[^\]]*\]$/, '')
        .split('.')
        .at(-1) ?? ''
    ];
  if (field && path.endsWith(']')) {
    if (before === undefined && isNamed(after)) return `new ${field}`;
    if (after === undefined && isNamed(before)) return `${field} taken out`;
  }
  return sayPath(path);
}
