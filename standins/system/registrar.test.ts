import {
  answerChallenge,
  headersOf,
  parseChallenge,
  parseSip,
  type Headers,
  type SipRequest,
  type SipResponse,
} from '../../core/wire/sip';
import { digestAuthenticator } from '../sip/authenticator';
import { hexHash } from '../sip/hash';
import { ask } from '../tests/wire';
import { openRegistrar, type RegistrarEvent } from './registrar';

const FROM = { transport: 'udp', host: '127.0.40.9', port: 5080 } as const;
const URI = 'sip:127.0.0.1';

/** A registrar with a clock that stands still, and a device that speaks to it. */
function setUp() {
  let atMs = 1_000_000;
  const now = () => atMs;
  const passwords = new Map([
    ['ines', 'right'],
    ['tomasz', 'other'],
  ]);
  const events: RegistrarEvent[] = [];
  const authenticator = digestAuthenticator('hostler', (user) => passwords.get(user) ?? null, now);
  const registrar = openRegistrar(authenticator, (event) => events.push(event), now);
  let seq = 0;
  let port: number = FROM.port;

  function send(user: string, headers: Headers, callId = `call-${user}`, fixedSeq?: number) {
    seq += 1;
    const bytes = ask('REGISTER', URI, {
      to: `<sip:${user}@127.0.0.1>`,
      callId,
      seq: fixedSeq ?? seq,
      branch: `z9hG4bK${fixedSeq ?? seq}`,
      headers,
    });
    return bytesAnswered(bytes);
  }
  function bytesAnswered(bytes: string): { answer: SipResponse | null; bytes: string } {
    const parsed = parseSip(bytes);
    if (!parsed.ok) throw new Error(parsed.fault.text);
    const text = registrar.answer(parsed.message as SipRequest, { ...FROM, port }, 'tag');
    const read = text === null ? null : parseSip(text);
    return { answer: read?.ok ? (read.message as SipResponse) : null, bytes };
  }
  function credentials(answer: SipResponse, user: string, password: string, which = 0, nc = 1): Headers {
    const challenge = parseChallenge(headersOf(answer, 'WWW-Authenticate')[which]!)!;
    const request = { method: 'REGISTER', uri: URI };
    return [
      [
        'Authorization',
        answerChallenge(hexHash, challenge, { username: user, password }, request, { nc, cnonce: 'c' }),
      ],
    ];
  }
  const challenged = (user: string) => send(user, []).answer!;
  /** Registers as a device does: asked, then with credentials. */
  function register(
    contacts: readonly string[],
    { user = 'ines', password = 'right', which = 0, expires = '60' } = {},
  ) {
    const answer = challenged(user);
    return send(user, [
      ...credentials(answer, user, password, which),
      ...contacts.map((each) => ['Contact', each] as const),
      ['Expires', expires],
    ]);
  }
  return {
    registrar,
    events,
    send,
    bytesAnswered,
    credentials,
    challenged,
    register,
    pass: (ms: number) => (atMs += ms),
    moveTo: (to: number) => (port = to),
  };
}

const CONTACT = '<sip:ines@127.0.40.9:5080>';
const kinds = (events: readonly RegistrarEvent[]) => events.map(({ kind }) => kind);

test('a device is asked for credentials in both algorithms, MD5 first for those that know no other, and may use either', () => {
  const { challenged, register, registrar } = setUp();
  const asked = headersOf(challenged('ines'), 'WWW-Authenticate').map(
    (each) => parseChallenge(each)!.algorithm,
  );
  expect(asked).toEqual(['MD5', 'SHA-256']);
  expect(register([CONTACT], { which: 0 }).answer?.status).toBe(200);
  expect(register(['<sip:ines@127.0.40.9:5081>'], { which: 1 }).answer?.status).toBe(200);
  expect(registrar.bindings('ines').map(({ contact }) => contact)).toEqual([
    'sip:ines@127.0.40.9:5080',
    'sip:ines@127.0.40.9:5081',
  ]);
});

test.each([
  ['a wrong password', { password: 'wrong' }, 'the password is wrong'],
  ['an account that is not there', { user: 'nobody' }, 'there is no such account'],
])('%s is refused and told', (_, as, why) => {
  const { register, events, registrar } = setUp();
  expect(register([CONTACT], as).answer?.status).toBe(403);
  expect(events).toEqual([expect.objectContaining({ kind: 'refused', why })]);
  expect(registrar.all()).toEqual([]);
});

test('nobody registers for somebody else', () => {
  const { challenged, credentials, send, registrar } = setUp();
  const signed = credentials(challenged('tomasz'), 'tomasz', 'other');
  expect(send('ines', [...signed, ['Contact', CONTACT]]).answer?.status).toBe(403);
  expect(registrar.bindings('ines')).toEqual([]);
});

test('a registration runs out when its time is over, and not before', () => {
  const { register, registrar, events, pass } = setUp();
  register([CONTACT]);
  pass(59_999);
  registrar.sweep();
  expect(registrar.bindings('ines')).toHaveLength(1);
  pass(1);
  expect(registrar.bindings('ines')).toEqual([]);
  registrar.sweep();
  expect(kinds(events)).toEqual(['registered', 'expired']);
});

test('each contact has its own expiry, one is taken out by 0 and all by a star', () => {
  const { register, registrar, pass } = setUp();
  const answer = register([`${CONTACT};expires=100`, '<sip:ines@127.0.40.9:6000>']).answer!;
  expect(headersOf(answer, 'Contact')).toEqual([
    '<sip:ines@127.0.40.9:5080>;expires=100',
    '<sip:ines@127.0.40.9:6000>;expires=60',
  ]);
  pass(70_000);
  expect(registrar.bindings('ines')).toHaveLength(1);
  register([`${CONTACT};expires=0`]);
  expect(registrar.bindings('ines')).toEqual([]);
  register([CONTACT, '<sip:ines@127.0.40.9:6000>']);
  expect(register(['*']).answer?.status).toBe(400);
  expect(registrar.bindings('ines')).toHaveLength(2);
  expect(register(['*'], { expires: '0' }).answer?.status).toBe(200);
  expect(registrar.bindings('ines')).toEqual([]);
});

test('too short an expiry is answered with the least there is, too long a one is cut', () => {
  const { register, registrar } = setUp();
  const answer = register([CONTACT], { expires: '5' }).answer!;
  expect([answer.status, headersOf(answer, 'Min-Expires')]).toEqual([423, ['10']]);
  register([CONTACT], { expires: '999999' });
  const [{ expiresMs, refreshedMs } = { expiresMs: 0, refreshedMs: 0 }] = registrar.bindings('ines');
  expect(expiresMs - refreshedMs).toBe(3_600_000);
});

test('the same REGISTER once more is answered alike; with its number in another message it is refused', () => {
  const { register, bytesAnswered, send, credentials, challenged, events } = setUp();
  const { bytes, answer } = register([CONTACT]);
  expect(bytesAnswered(bytes).answer).toEqual(answer);
  expect(kinds(events)).toEqual(['registered']);
  const again = [...credentials(challenged('ines'), 'ines', 'right'), ['Contact', CONTACT] as const];
  expect(send('ines', again, 'call-ines', 1).answer?.status).toBe(500);
});

test('a REGISTER that differs in its Via is no repetition, and gets no answer that was kept for another', () => {
  const { register, bytesAnswered, moveTo, registrar } = setUp();
  const { bytes } = register([CONTACT]);
  moveTo(6001);
  expect(bytesAnswered(bytes.replace(/branch=[^;\r]*/, '$&-other')).answer?.status).toBe(401);
  expect(registrar.bindings('ines').map(({ from }) => from.port)).toEqual([FROM.port]);
});

test('credentials that were used once are not taken again, nor an old or a foreign nonce', () => {
  const { challenged, credentials, send, pass } = setUp();
  const asked = challenged('ines');
  const signed = credentials(asked, 'ines', 'right');
  expect(send('ines', [...signed, ['Contact', CONTACT]]).answer?.status).toBe(200);
  const replay = send('ines', [...signed, ['Contact', '<sip:thief@127.0.66.6>']], 'another').answer!;
  expect(replay.status).toBe(401);
  expect(headersOf(replay, 'WWW-Authenticate')[0]).toContain('stale=true');
  expect(
    send('ines', [...credentials(asked, 'ines', 'right', 0, 2), ['Contact', CONTACT]]).answer?.status,
  ).toBe(200);
  pass(300_001);
  expect(send('ines', credentials(asked, 'ines', 'right', 0, 3)).answer?.status).toBe(401);
  const foreign = signed.map(
    ([name, value]) => [name, value.replace(/nonce="[^"]*"/, 'nonce="x.y.z"')] as const,
  );
  expect(send('ines', foreign).answer?.status).toBe(401);
});

test('a device that comes from elsewhere has moved, and calls go there from then on', () => {
  const { register, registrar, events, moveTo } = setUp();
  register([CONTACT]);
  register([CONTACT]);
  moveTo(6001);
  register([CONTACT]);
  expect(kinds(events)).toEqual(['registered', 'refreshed', 'moved']);
  expect(registrar.bindings('ines').map(({ from }) => from.port)).toEqual([6001]);
});

test('an account has no more than eight contacts', () => {
  const { register, registrar } = setUp();
  for (let i = 0; i < 8; i += 1) register([`<sip:ines@127.0.40.9:${6000 + i}>`]);
  expect(register(['<sip:ines@127.0.40.9:7000>']).answer?.status).toBe(403);
  expect(registrar.bindings('ines')).toHaveLength(8);
});

test('ten thousand wrong registrations from one source cost two hundred answers, and the right one still gets in', () => {
  const { send, credentials, challenged, register, events, pass } = setUp();
  const signed = credentials(challenged('ines'), 'ines', 'wrong');
  let answered = 0;
  for (let i = 0; i < 10_000; i += 1) if (send('ines', signed, `flood-${i}`).answer) answered += 1;
  expect(answered).toBe(200);
  expect(events).toHaveLength(200);
  expect(register([CONTACT]).answer?.status).toBe(200);
  pass(10_001);
  expect(send('ines', credentials(challenged('ines'), 'ines', 'wrong')).answer?.status).toBe(403);
});
