import { parse as parseCookies, serialize } from 'cookie';
import type { Request } from 'express';
import { parts } from '../../core/estate';
import { checkedBody, refusal, EVERY_ROLE, type OpenRoute, type Route } from '../http/routes';
import { addRecord } from '../record/queries';
import { hashPassword, passwordMatches } from './passwords';
import {
  beginSession,
  endSession,
  FAILURES_PER_ACCOUNT,
  FAILURES_PER_ADDRESS,
  findAccount,
  forgetFailures,
  LONGEST_SECONDS,
  noteFailure,
  recentFailures,
} from './queries';

const COOKIE = 'hostler_session';

export const sessionToken = (request: Request): string | null =>
  parseCookies(request.headers.cookie ?? '')[COOKIE] ?? null;

const cookie = (value: string, maxAge: number) =>
  serialize(COOKIE, value, {
    httpOnly: true,
    sameSite: 'strict',
    path: '/',
    maxAge,
    secure: process.env.HOSTLER_SECURE_COOKIE === '1',
  });

const signInSchema = parts.closed({ name: parts.requiredText(80), password: parts.requiredText(200) });

/** Stands in for the hash of an account that is not there, so that its absence cannot be told by the time taken. */
let nobodysHash: Promise<string> | null = null;

export const openRoutes: readonly OpenRoute[] = [
  {
    method: 'POST',
    path: '/api/session',
    roles: 'everybody',
    handle: async ({ services: { db }, request, body }) => {
      const { name, password } = checkedBody<{ name: string; password: string }>(body, signInSchema);
      const subjects = [`name:${name}`, `address:${request.ip ?? ''}`] as const;
      const tooMany =
        (await recentFailures(db, subjects[0])) >= FAILURES_PER_ACCOUNT ||
        (await recentFailures(db, subjects[1])) >= FAILURES_PER_ADDRESS;
      if (tooMany) throw refusal(429, 'Too many failed sign-ins. Wait a quarter of an hour and try again.');
      const account = await findAccount(db, name);
      nobodysHash ??= hashPassword('nobody');
      const right = await passwordMatches(account?.hash ?? (await nobodysHash), password);
      if (!account || !right) {
        await noteFailure(db, subjects);
        throw refusal(401, 'This name and password do not go together.');
      }
      await forgetFailures(db, subjects[0]);
      const before = sessionToken(request);
      if (before) await endSession(db, before);
      const token = await beginSession(db, account.id);
      await addRecord(db, {
        who: account.name,
        kind: 'signed-in',
        subject: account.name,
        detail: account.role,
      });
      return {
        body: { name: account.name, role: account.role },
        headers: { 'Set-Cookie': cookie(token, LONGEST_SECONDS) },
      };
    },
  },
];

export const authRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/session',
    roles: EVERY_ROLE,
    handle: async ({ account }) => ({ body: { name: account.name, role: account.role } }),
  },
  {
    method: 'DELETE',
    path: '/api/session',
    roles: EVERY_ROLE,
    handle: async ({ services: { db }, request }) => {
      const token = sessionToken(request);
      if (token) await endSession(db, token);
      return { status: 204, headers: { 'Set-Cookie': cookie('', 0) } };
    },
  },
];
