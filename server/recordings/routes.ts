import type { RecordingsPage } from '../../api/rounds';
import { writeWav } from '../../core/formats';
import { fromMuLaw, SAMPLES_PER_S } from '../../core/wire/rtp';
import { refusal } from '../base';
import { inTransaction } from '../db';
import type { Route, SignedIn } from '../http';
import { readWavInPool } from '../reading';
import { addRecord } from '../record';
import {
  allRecordings,
  countRecordings,
  insertRecording,
  recordingOf,
  removeRecording,
  soundOf,
} from './queries';

const MOST_RECORDINGS = 200;
const MOST_BYTES = 32 << 20;

async function setRemoved({ services, params, account }: SignedIn, isRemoved: boolean) {
  const recording = await recordingOf(services.db, Number(params.id));
  if (!recording) throw refusal(404, 'There is no such recording.');
  await inTransaction(services.db, async (tx) => {
    if (!(await removeRecording(tx, recording.id, isRemoved ? services.now() : null))) return;
    await addRecord(tx, {
      who: account.name,
      kind: isRemoved ? 'recording-removed' : 'recording-restored',
      subject: recording.name,
    });
  });
  return { status: 204 };
}

export const recordingRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/recordings',
    roles: ['specialist', 'manager'],
    handle: async ({ services }) => ({
      body: { recordings: await allRecordings(services.db) } satisfies RecordingsPage,
    }),
  },
  {
    /** A WAV file, made into what a telephone line carries. `?name=` is what it is called. */
    method: 'POST',
    path: '/api/recordings',
    roles: ['specialist'],
    rawBody: true,
    limit: MOST_BYTES,
    handle: async ({ services, account, body, query }) => {
      const name = (query.name ?? '').trim().slice(0, 120);
      if (name === '') throw refusal(400, 'The recording needs a name.');
      if (!Buffer.isBuffer(body) || body.length === 0) throw refusal(400, 'The recording is empty.');
      if ((await countRecordings(services.db)) >= MOST_RECORDINGS)
        throw refusal(409, `${MOST_RECORDINGS} recordings are kept at most. Remove one first.`);
      const read = await readWavInPool(new Uint8Array(body));
      if (!read.ok) throw refusal(422, read.why);
      const { muLaw, ms } = read;
      const id = await inTransaction(services.db, async (tx) => {
        const made = await insertRecording(tx, { name, muLaw, ms, by: account.name, at: services.now() });
        await addRecord(tx, {
          who: account.name,
          kind: 'recording-added',
          subject: name,
          detail: `${Math.round(ms / 1000)} s`,
        });
        return made;
      });
      return { status: 201, body: { id } };
    },
  },
  {
    /** As it is heard on a telephone line. */
    method: 'GET',
    path: '/api/recordings/:id/sound',
    roles: ['specialist', 'manager'],
    handle: async ({ services, params }) => {
      const muLaw = await soundOf(services.db, Number(params.id));
      if (!muLaw) throw refusal(404, 'There is no such recording.');
      return {
        bytes: Buffer.from(writeWav(Int16Array.from(muLaw, fromMuLaw), SAMPLES_PER_S)),
        headers: { 'Content-Type': 'audio/wav' },
      };
    },
  },
  {
    method: 'DELETE',
    path: '/api/recordings/:id',
    roles: ['specialist'],
    handle: (context) => setRemoved(context, true),
  },
  {
    method: 'POST',
    path: '/api/recordings/:id/restore',
    roles: ['specialist'],
    handle: (context) => setRemoved(context, false),
  },
];
