import type { RingStage, Stage, Treatment } from '../estate';
import type { EstateIndex } from './compile';
import { endingPhrase, theEndpoint } from './explain';
import { seconds } from './state';

/** A piece of a sentence; `strong` pieces are what the eye should find. */
export interface Piece {
  readonly text: string;
  readonly strong?: boolean;
}

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
    return theEndpoint(index, target.endpoint, speaker) + (delay > 0 ? ` after ${seconds(delay)}` : '');
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
