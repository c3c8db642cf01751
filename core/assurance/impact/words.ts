import { personIn, PLACE_KINDS, type Estate } from '../../estate';
import { showNumber } from '../../calls/dialling';
import { isLost, FAILURES, seconds, shortName } from '../../calls/engine';
import { seatOfPhone } from './cases';
import type { Change, End, ImpactGroup } from './types';

/** The names that sentences use. */
export interface ImpactNames {
  readonly person: (id: string) => string;
  readonly schedule: (id: string) => string;
  readonly status: (id: string) => string;
  readonly seat: (id: string) => string;
}

/** Names of two versions of an estate, the later one first. */
export function impactNames(...estates: readonly Estate[]): ImpactNames {
  const by = (list: 'schedules' | 'statuses' | 'seats') => (id: string) => {
    for (const estate of estates) {
      const found = estate[list]?.find((each) => each.id === id);
      if (found) return found.name;
    }
    return id;
  };
  return {
    person: (id) => {
      for (const { people } of estates) {
        const found = personIn(people, id);
        if (found) return found.name;
      }
      return id;
    },
    schedule: by('schedules'),
    status: by('statuses'),
    seat: by('seats'),
  };
}

function sayCase({ caseKind, at, start }: Change, names: ImpactNames): string {
  const phone = Object.hasOwn(PLACE_KINDS, at) ? PLACE_KINDS[at as keyof typeof PLACE_KINDS] : at;
  switch (caseKind) {
    case 'nobody':
      return 'an unanswered call';
    case 'answers':
      return start.kind === 'group'
        ? `a call that ${names.person(at)} would take`
        : `a call that would be taken at the ${phone}`;
    case 'off':
      return `a call with the ${phone} off`;
    case 'signed-out':
      return `a call with the ${phone} not registered`;
    case 'rejects':
      return `a call rejected at the ${phone}`;
    case 'all-off':
      return 'a call with all phones off';
    case 'engaged':
      return 'a call while they are busy';
    case 'seat-answers':
      return `a call that whoever is signed on to ${names.seat(at)} would take`;
    case 'seats-on':
      return 'an unanswered call with every seat signed on';
    case 'press':
      return `a call in which the caller presses ${at}`;
    case 'code':
      return 'a call with the right code';
  }
}

/** Where a call ends, as the end of a sentence: `ends as voicemail for Ruth`. */
export function sayEnd({ kind, who, detail }: End, names: ImpactNames): string {
  const whom = who === 'own' || who === null ? null : shortName(names.person(who));
  const place = /^\+\d/.test(detail) ? showNumber(detail) : detail;
  const seat = seatOfPhone(detail);
  switch (kind) {
    case 'answered':
      if (seat !== null) return `is taken by whoever is signed on to ${names.seat(seat)}`;
      return whom
        ? `is taken by ${names.person(who!)}`
        : who === 'own'
          ? 'is taken by them'
          : `is taken at ${place}`;
    case 'mailbox':
      return whom ? `ends as voicemail for ${whom}` : 'ends as voicemail for them';
    case 'carrier-voicemail':
      return `is lost to ${whom ? `${whom}'s` : who === 'own' ? 'their' : place ? `${place}: a` : 'a'} mobile carrier's voicemail`;
    case 'played':
      return 'is answered by a recording';
    case 'hung-up':
      return detail ? `is ended with “${detail}”` : 'is ended';
    case 'loop':
      return 'goes round and is lost';
    case 'failed':
      return `is lost: ${FAILURES[detail] ?? detail.replaceAll('-', ' ')}`;
    case 'unanswered':
      return 'is lost: nobody answers, and nothing comes after';
    case 'abandoned':
      return 'is given up by the caller';
  }
}

const CALLERS: Record<Change['callers'], string> = {
  any: '',
  outside: ' from outside',
  inside: ' from inside',
  withheld: ' with the number withheld',
  listed: ' from a listed number',
};

/** A change as a sentence without whom it meets. */
export function sayChangeOf(change: Change, names: ImpactNames): string {
  const { times, status } = change;
  const when =
    times.kind === 'any'
      ? ''
      : times.kind === 'some'
        ? ' at some hours'
        : ` ${times.kind === 'inside' ? 'in' : 'outside'} “${names.schedule(times.schedule)}”`;
  const stand = status === null ? '' : ` while “${names.status(status)}”`;
  const line = change.line === null ? '' : ` for ${change.line}`;
  const what = `${sayCase(change, names)}${line}${CALLERS[change.callers]}${when}${stand}`;
  const { from, to, laterMs } = change;
  return laterMs === 0
    ? `${what} now ${sayEnd(to, names)}. Before, it ${sayEnd(from, names).replace(/^(is|ends|goes) /, (verb) => ({ 'is ': 'was ', 'ends ': 'ended ', 'goes ': 'went ' })[verb] ?? verb)}.`
    : `${what} ${sayEnd(to, names)} ${seconds(Math.abs(laterMs))} ${laterMs > 0 ? 'later' : 'sooner'} than before.`;
}

const weightOf = ({ from, to, laterMs }: Change): ImpactGroup['weight'] => {
  if (laterMs !== 0) return 'time';
  const [was, is] = [isLost(from.kind), isLost(to.kind)];
  return is && !was ? 'lost' : was && !is ? 'better' : 'other';
};
const WEIGHTS: readonly ImpactGroup['weight'][] = ['lost', 'other', 'time', 'better'];

const NOUNS = { person: ['person', 'people'], group: ['group', 'groups'], menu: ['menu', 'menus'] } as const;

/** Gathers changes of the same kind, the worst and those that meet most first. */
export function groupChanges(changes: readonly Change[], names: ImpactNames): readonly ImpactGroup[] {
  const groups = new Map<string, Change[]>();
  for (const change of changes) {
    const { start, caseKind, at, status, line, from, to, laterMs, times, callers } = change;
    const key = JSON.stringify([start.kind, caseKind, at, status, line, from, to, laterMs, times, callers]);
    const group = groups.get(key);
    if (group) group.push(change);
    else groups.set(key, [change]);
  }
  return [...groups]
    .map(([key, all]): ImpactGroup => {
      const [first] = all as [Change];
      const count = new Set(all.map(({ start }) => start.id)).size;
      const whom = count === 1 ? first.name : `${count} ${NOUNS[first.start.kind][1]}`;
      return { key, says: `${whom}: ${sayChangeOf(first, names)}`, weight: weightOf(first), changes: all };
    })
    .sort(
      (a, b) => WEIGHTS.indexOf(a.weight) - WEIGHTS.indexOf(b.weight) || b.changes.length - a.changes.length,
    );
}
