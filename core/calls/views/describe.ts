import {
  capital,
  type Arrival,
  type CallerTest,
  type Confirm,
  type Person,
  type RingStage,
  type Stage,
  type Treatment,
  type When,
} from '../../estate';
import { type EstateIndex, endingPhrase, theEndpoint, seconds } from '../engine';

/** A piece of a sentence; `strong` pieces are what the eye should find. */
export interface Piece {
  readonly text: string;
  readonly strong?: boolean;
}

/** What whoever answers has to do before the call is theirs. */
const CONFIRM_WORDS: Record<Exclude<Confirm, 'none'>, string> = {
  key: 'press 1 to accept',
  'key-name': 'says who calls, press 1 to accept',
  pin: 'PIN to accept',
};

const listed = (names: readonly string[]): Piece[] =>
  names.flatMap((name, i): Piece[] => [
    ...(i === 0 ? [] : [{ text: i === names.length - 1 ? ' and ' : ', ' }]),
    { text: name, strong: true },
  ]);

function ringPieces(index: EstateIndex, stage: RingStage, speaker: string, first: boolean): Piece[] {
  const rung = stage.ring.filter((target) => target.enabled !== false && (target.delayMs ?? 0) < stage.forMs);
  if (rung.length === 0) return [];
  const names = rung.map((target) => {
    const delay = target.delayMs ?? 0;
    return (
      theEndpoint(index, target.endpoint, speaker) +
      (delay > 0 ? ` after ${seconds(delay)}` : '') +
      (target.confirm && target.confirm !== 'none' ? ` (${CONFIRM_WORDS[target.confirm]})` : '')
    );
  });
  return [
    { text: first ? 'Rings ' : ', then ' },
    ...listed(names),
    { text: `${names.length > 1 ? ' together' : ''} for ${seconds(stage.forMs)}` },
  ];
}

function stagePieces(index: EstateIndex, stage: Stage, speaker: string, first: boolean): Piece[] {
  if ('ring' in stage) return ringPieces(index, stage, speaker, first);
  const then = first ? '' : ', then ';
  if ('code' in stage) return [{ text: `${then}${first ? 'A' : 'a'}sks the caller for a code` }];
  const keys = stage.offer.choices.map((choice) => `key ${choice.key}`).join(', ');
  return [
    {
      text: `${then}${first ? 'A' : 'a'} greeting of ${seconds(stage.offer.greetingMs)} offers ${keys || 'nothing'}`,
    },
  ];
}

/**
 * What a treatment does, in one or two plain sentences.
 * @param speaker the person whose plan it is
 */
export function describeTreatment(index: EstateIndex, treatment: Treatment, speaker: string): Piece[] {
  const pieces: Piece[] = [];
  for (const stage of treatment.stages)
    pieces.push(...stagePieces(index, stage, speaker, pieces.length === 0));
  const ending = endingPhrase(index, treatment.ending, speaker);
  if (pieces.length === 0)
    return [{ text: 'Rings nothing: ' }, { text: ending, strong: true }, { text: ' at once.' }];
  return [...pieces, { text: '. Nobody answers: ' }, { text: ending, strong: true }, { text: '.' }];
}

/** The pieces as one string. */
export const plain = (pieces: readonly Piece[]): string => pieces.map((piece) => piece.text).join('');

const CALLERS: Record<CallerTest['class'], string> = {
  internal: 'from inside',
  external: 'from outside',
  anonymous: 'with the number withheld',
  listed: 'from listed callers',
};
const ARRIVAL_WORDS: Record<Arrival, string> = {
  direct: 'direct',
  menu: 'by a menu',
  group: 'by a group',
  forwarded: 'forwarded on',
};
const orOf = (words: readonly string[]) =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`;

/** When a rule holds, in a few words: `On shift, inside Office hours, from outside`. */
export function describeWhen(index: EstateIndex, when: When, person?: Person): string {
  const parts: string[] = [];
  if (when.status)
    parts.push(when.status.length ? orOf(when.status.map((id) => index.statuses.get(id) ?? id)) : 'never');
  if (when.schedule) {
    const name = index.schedules.get(when.schedule.id)?.name ?? when.schedule.id;
    parts.push(`${when.schedule.inside ? 'inside' : 'outside'} ${name}`);
  }
  if (when.caller) {
    const numbers = when.caller.numbers ?? [];
    parts.push(
      when.caller.class === 'listed' && numbers.length > 0
        ? `from ${orOf(numbers)}`
        : CALLERS[when.caller.class],
    );
  }
  if (when.arrival)
    parts.push(when.arrival.length ? orOf(when.arrival.map((each) => ARRIVAL_WORDS[each])) : 'never');
  if (when.line)
    parts.push(
      `on line ${orOf(when.line.map((id) => person?.lines.find((line) => line.id === id)?.extension ?? id))}`,
    );
  const text = parts.join(', ');
  return text ? capital(text) : 'Always';
}
