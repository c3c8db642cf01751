import { ladderOf } from '../../core/calls/live';
import { captureOf, mustMask, refusal, shownMessages } from '../base';
import { readCallKey, readLadder } from '../collected';
import type { SignedIn } from '../http';

/** The messages of a call that went, as whoever asks may read them. @throws a refusal where none are kept */
async function messagesAsked(context: SignedIn) {
  const { services, params } = context;
  const key = params.key ?? '';
  const kept = await readLadder(services.db, key);
  if (!kept) throw refusal(404, 'None of the messages of this call are kept.');
  const { index } = await services.store.current();
  return { ...kept, key, messages: shownMessages(kept.messages, index, mustMask(context)) };
}

export async function callLadder(context: SignedIn) {
  const { messages, names } = await messagesAsked(context);
  return { body: ladderOf(messages, names) };
}

export async function callCapture(context: SignedIn) {
  const { messages, key } = await messagesAsked(context);
  const beganMs = readCallKey(key)?.startedAt.getTime() ?? 0;
  return captureOf(messages, { beganMs, file: `call-${beganMs}` });
}
