import { compileEstate, runCall, type Call } from '../engine';
import { tryCall } from '../views';
import { buildSip } from '../../wire/sip';
import { workedEstate } from '../../tests/worked';
import { ladderOf } from './ladder';
import { liveStrip } from './strip';

const index = compileEstate(workedEstate());
const call: Call = {
  from: '+16045550199',
  to: '+12505550101',
  at: '2026-11-24T14:20:00-07:00',
  world: { endpoints: { 'ines-mobile': { answerAfterMs: 5000 } } },
};

const message = (start: string) =>
  buildSip({
    method: start,
    uri: 'sip:a@127.0.0.1',
    headers: [
      ['Via', 'SIP/2.0/UDP 127.0.0.9;branch=z9hG4bK1'],
      ['From', '<sip:a@h>;tag=1'],
      ['To', '<sip:b@h>'],
      ['Call-ID', 'c'],
      ['CSeq', `1 ${start}`],
    ],
  });

describe('ladder', () => {
  const sent = (from: string, to: string, bytes: string) => ({ atMs: 5, from, to, bytes });
  const answer = message('INVITE').replace(/^[^\r]+/, 'SIP/2.0 180 Ringing');
  const { parties, rows } = ladderOf(
    [
      sent('127.0.0.3:5062', '127.0.0.1:5060', message('INVITE')),
      sent('127.0.0.1:5060', '127.0.0.2:5070', message('INVITE')),
      sent('127.0.0.2:5070', '127.0.0.1:5060', answer),
      sent('127.0.0.2:5071', '127.0.0.1:5060', 'noise'),
    ],
    { '127.0.0.1': 'Phone system' },
  );

  test('parties come in the order in which they take part, each address once, with their names', () => {
    expect(parties).toEqual([
      { address: '127.0.0.3', name: '127.0.0.3' },
      { address: '127.0.0.1', name: 'Phone system' },
      { address: '127.0.0.2', name: '127.0.0.2' },
    ]);
  });
  test('each message has its row: what it is, from whom to whom, and whole', () => {
    expect(rows.map(({ from, to, label, isRequest }) => [from, to, label, isRequest])).toEqual([
      [0, 1, 'INVITE', true],
      [1, 2, 'INVITE', true],
      [2, 1, '180 Ringing', false],
      [2, 1, 'not readable', false],
    ]);
    expect(rows[0]!.text).toBe(message('INVITE'));
  });
});

describe('the strip of a call that goes on', () => {
  const { strip: predicted } = tryCall(index, call);
  const trace = runCall(index, call);
  const at = (atMs: number) => liveStrip(index, predicted, trace, atMs);

  test('nothing is drawn that has not happened yet', () => {
    for (const atMs of [0, 100, 3000, 6000, 9000]) {
      const { lanes, ending, endMs } = at(atMs);
      for (const { segments } of lanes)
        for (const { toMs } of segments) expect(toMs).toBeLessThanOrEqual(atMs);
      expect([ending, endMs]).toEqual(['', atMs]);
    }
    expect(at(3000).lanes.map(({ result }) => result)).toEqual(['ringing', 'dialled']);
  });
  test('once it has ended it is as computed, on the same scale', () => {
    const done = at(trace.outcome.atMs);
    expect(done.ending).toBe(predicted.ending);
    expect(done.horizonMs).toBe(predicted.horizonMs);
    expect(done.lanes.map(({ endpoint, segments }) => [endpoint, segments])).toEqual(
      predicted.lanes.map(({ endpoint, segments }) => [endpoint, segments]),
    );
    expect(done.tone).toBe('reached');
  });
  test('a phone that was not expected gets a lane of its own below the others', () => {
    const leg = {
      endpoint: 'tomasz-app',
      dialledMs: 0,
      alertMs: 1200,
      endMs: 4000,
      end: 'rejected' as const,
    };
    const { lanes } = liveStrip(index, predicted, { ...trace, legs: [...trace.legs, leg] }, 9000);
    expect(lanes.at(-1)).toMatchObject({ endpoint: 'tomasz-app', silent: false });
    expect(lanes).toHaveLength(predicted.lanes.length + 1);
  });
});
