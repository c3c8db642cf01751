import type { OwnAccount } from '../../api/account';
import { parse as parseCookies, serialize } from 'cookie';
import type { Request } from 'express';
import { parts } from '../../core/estate';
import { inTransaction, type Queryable } from '../db';
import { checkedBody, type OpenRoute, type Route, type Services } from '../http';
import { EVERY_ROLE, notRight, refusal, type Role } from '../base';
import { addRecord } from '../record';
import {
  forgetAttempts,
  mayTry,
  tryCounted,
  uncountAttempt,
  type Bound,
  hashPassword,
  passwordMatches,
  beginSession,
  DEVICE_SECONDS,
  dropSecondFactor,
  endSession,
  endSessionById,
  endSessions,
  findAccount,
  isKnownDevice,
  LONGEST_SECONDS,
  noteDevice,
  sessionsOf,
  setPassword,
  type StoredAccount,
  proposeSecondFactor,
  secondFactorMatches,
  secondFactorOf,
  takeSecondFactor,
} from '../auth';

const COOKIE = 'hostler_session';
const DEVICE = 'hostler_device';

/** Tries within a quarter of an hour: from one source, at one name from one source, at one name from everywhere. */
const MOST = { source: 30, pair: 5, name: 100, device: 10, own: 5 } as const;
const LEAST_PASSWORD = 12;

const cookieOf = (request: Request, name: string): string | null =>
  parseCookies(request.headers.cookie ?? '')[name] ?? null;
export const sessionToken = (request: Request): string | null => cookieOf(request, COOKIE);

const cookie = (name: string, value: string, maxAge: number) =>
  serialize(name, value, {
    httpOnly: true,
    sameSite: 'strict',
    path: '/',
    maxAge,
    secure: process.env.HOSTLER_SECURE_COOKIE === '1',
  });

const signInSchema = parts.closed({
  name: parts.requiredText(80),
  password: parts.requiredText(200),
  code: parts.text(40),
});

/** Stands in for the hash of an account that is not there, so that its absence cannot be told by the time taken. */
let nobodysHash: Promise<string> | null = null;

/**
 * What a try at signing in counts against. A browser that the account was signed in from before has a count of its
 * own: strangers who guess at the name do not lock its owner out.
 */
async function boundsOf(db: Queryable, request: Request, account: StoredAccount | null, name: string) {
  const from = request.ip ?? '';
  const device = cookieOf(request, DEVICE);
  const known = account && device && (await isKnownDevice(db, account.id, device)) ? device : null;
  const bounds: readonly Bound[] = known
    ? [{ subject: `sign-in with ${known}`, most: MOST.device }]
    : [
        { subject: `sign-in from ${from}`, most: MOST.source },
        { subject: `sign-in as ${name} from ${from}`, most: MOST.pair },
        { subject: `sign-in as ${name}`, most: MOST.name },
      ];
  return { known: known !== null, bounds };
}

/** What is forgotten of an account's counts where somebody who may says so. */
export const letIn = (
  db: Queryable,
  name: string,
  from: readonly string[] = ['127.0.0.1', '::1'],
): Promise<void> =>
  forgetAttempts(db, [
    `sign-in as ${name}`,
    ...from.flatMap((each) => [`sign-in as ${name} from ${each}`, `sign-in from ${each}`]),
  ]);

/** What a browser is told of who is signed in. */
async function told({ store }: Services, { name, role }: { readonly name: string; readonly role: Role }) {
  return { name, role, timeZone: (await store.current()).estate.timeZone };
}

async function signIn(services: Services, request: Request, body: unknown) {
  const { db, secrets, now } = services;
  const given = checkedBody<{ name: string; password: string; code?: string }>(body, signInSchema);
  const account = await findAccount(db, given.name);
  const { known, bounds } = await boundsOf(db, request, account, given.name);
  nobodysHash ??= hashPassword('nobody');
  const stored = account?.hash ?? (await nobodysHash);
  const right = await tryCounted(db, bounds, () => passwordMatches(stored, given.password));
  if (right === null)
    throw refusal(
      429,
      'Too many failed sign-ins from here. Wait a quarter of an hour, or sign in from a browser that you have used before.',
      { headers: { 'Retry-After': '900' } },
    );
  if (!account || !right) throw refusal(401, 'This name and password do not go together.');
  if (account.hasSecondFactor) {
    if (!given.code)
      throw refusal(401, 'Type the code that your authenticator app shows.', { extra: { needsCode: true } });
    if (!(await secondFactorMatches(db, secrets, account.id, given.code, now())))
      throw refusal(401, 'This code is not right, or was used before.', { extra: { needsCode: true } });
  }
  // What others tried from the same source stays counted: one right password does not clear guesses at other names.
  const source = `sign-in from ${request.ip ?? ''}`;
  await uncountAttempt(db, source);
  await forgetAttempts(
    db,
    bounds.map(({ subject }) => subject).filter((subject) => subject !== source),
  );
  const before = sessionToken(request);
  const answer = await told(services, account);
  return inTransaction(db, async (tx) => {
    if (before) await endSession(tx, before);
    // A password that was changed since it was looked at opens nothing.
    const still = await findAccount(tx, account.name, true);
    if (still?.epoch !== account.epoch) throw refusal(401, 'This name and password do not go together.');
    const token = await beginSession(tx, account, request.ip ?? '', request.headers['user-agent'] ?? '');
    const device = known ? null : await noteDevice(tx, account.id);
    await addRecord(tx, {
      who: account.name,
      kind: 'signed-in',
      subject: account.name,
      detail: account.role,
    });
    return {
      body: answer,
      headers: {
        'Set-Cookie': [
          cookie(COOKIE, token, LONGEST_SECONDS),
          ...(device === null ? [] : [cookie(DEVICE, device, DEVICE_SECONDS)]),
        ],
      },
    };
  });
}

export const openRoutes: readonly OpenRoute[] = [
  {
    method: 'POST',
    path: '/api/session',
    roles: 'everybody',
    handle: ({ services, request, body }) => signIn(services, request, body),
  },
];

/** Refuses who does not know the account's own password; each try is counted first. */
async function mustKnowPassword({ db }: Services, name: string, password: string): Promise<StoredAccount> {
  const subject = `own password of ${name}`;
  const account = await findAccount(db, name);
  const right = await tryCounted(
    db,
    [{ subject, most: MOST.own }],
    async () => account !== null && (await passwordMatches(account.hash, password)),
  );
  if (right === null) throw refusal(429, 'Too many wrong passwords. Wait a quarter of an hour.');
  if (!account || !right) throw notRight([{ path: 'password', message: 'is not your password' }]);
  await forgetAttempts(db, [subject]);
  return account;
}

const passwordBody = parts.closed({ password: parts.requiredText(200), next: parts.requiredText(200) });
const codeBody = parts.closed({ code: parts.requiredText(40) });
const proofBody = parts.closed({ password: parts.requiredText(200) });

export const authRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/session',
    roles: EVERY_ROLE,
    handle: async ({ services, account }) => ({ body: await told(services, account) }),
  },
  {
    method: 'DELETE',
    path: '/api/session',
    roles: EVERY_ROLE,
    handle: async ({ services: { db, streams }, account, request }) => {
      const token = sessionToken(request);
      if (token) await endSession(db, token);
      streams.end({ session: account.session });
      return { status: 204, headers: { 'Set-Cookie': cookie(COOKIE, '', 0) } };
    },
  },
  {
    /** One's own account: where it is signed in, and whether it has a second factor. */
    method: 'GET',
    path: '/api/account',
    roles: EVERY_ROLE,
    handle: async ({ services: { db }, account }) => ({
      body: {
        name: account.name,
        role: account.role,
        sessions: (await sessionsOf(db, account.id)).map((each) => ({
          ...each,
          isThis: each.id === account.session,
        })),
        secondFactor: await secondFactorOf(db, account.id),
      } satisfies OwnAccount,
    }),
  },
  {
    method: 'DELETE',
    path: '/api/account/sessions/:id',
    roles: EVERY_ROLE,
    handle: async ({ services: { db, streams }, account, params }) => {
      if (!(await endSessionById(db, account.id, Number(params.id))))
        throw refusal(404, 'This session has ended already.');
      streams.end({ session: Number(params.id) });
      return { status: 204 };
    },
  },
  {
    method: 'DELETE',
    path: '/api/account/sessions',
    roles: EVERY_ROLE,
    handle: async ({ services: { db, streams }, account }) => {
      await endSessions(db, account.id);
      streams.end({ account: account.id });
      return { status: 204, headers: { 'Set-Cookie': cookie(COOKIE, '', 0) } };
    },
  },
  {
    method: 'PUT',
    path: '/api/account/password',
    roles: EVERY_ROLE,
    handle: async ({ services, account, request, body }) => {
      const { password, next } = checkedBody<{ password: string; next: string }>(body, passwordBody);
      const wrong = (message: string) => notRight([{ path: 'next', message }]);
      if (next.length < LEAST_PASSWORD) throw wrong(`must have ${LEAST_PASSWORD} characters or more`);
      if (next === password) throw wrong('must be another one');
      await mustKnowPassword(services, account.name, password);
      const hash = await hashPassword(next);
      const token = await inTransaction(services.db, async (tx) => {
        await setPassword(tx, account.id, hash);
        await addRecord(tx, { who: account.name, kind: 'password-changed', subject: account.name });
        return beginSession(tx, account, request.ip ?? '', request.headers['user-agent'] ?? '');
      });
      services.streams.end({ account: account.id });
      return { status: 204, headers: { 'Set-Cookie': cookie(COOKIE, token, LONGEST_SECONDS) } };
    },
  },
  {
    method: 'POST',
    path: '/api/account/second-factor',
    roles: EVERY_ROLE,
    handle: async ({ services, account, body }) => {
      const { password } = checkedBody<{ password: string }>(body, proofBody);
      await mustKnowPassword(services, account.name, password);
      return { body: await proposeSecondFactor(services.db, services.secrets, account) };
    },
  },
  {
    method: 'PUT',
    path: '/api/account/second-factor',
    roles: EVERY_ROLE,
    handle: async ({ services: { db, secrets, now }, account, body }) => {
      const { code } = checkedBody<{ code: string }>(body, codeBody);
      if (!(await mayTry(db, [{ subject: `second factor of ${account.name}`, most: MOST.own }])))
        throw refusal(429, 'Too many wrong codes. Wait a quarter of an hour.');
      const codes = await inTransaction(db, async (tx) => {
        const taken = await takeSecondFactor(tx, secrets, account.id, code.replace(/\s/g, ''), now());
        if (taken)
          await addRecord(tx, { who: account.name, kind: 'second-factor-set', subject: account.name });
        return taken;
      });
      if (!codes)
        throw notRight([{ path: 'code', message: 'is not what the app shows now: check its clock' }]);
      await forgetAttempts(db, [`second factor of ${account.name}`]);
      return { body: { codes } };
    },
  },
  {
    method: 'POST',
    path: '/api/account/second-factor/remove',
    roles: EVERY_ROLE,
    handle: async ({ services, account, body }) => {
      const { password } = checkedBody<{ password: string }>(body, proofBody);
      await mustKnowPassword(services, account.name, password);
      await inTransaction(services.db, async (tx) => {
        await dropSecondFactor(tx, account.id);
        await addRecord(tx, { who: account.name, kind: 'second-factor-removed', subject: account.name });
      });
      return { status: 204 };
    },
  },
];
