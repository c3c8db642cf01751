import { settingOf, type Site } from '../../../estate';
import {
  enoughDesks,
  judgeDeskPromises,
  sayChance,
  sayDeskPromise,
  sayNeeded,
  weekAt,
  withoutDesk,
  worstOf,
} from '../../../desks';
import { DateTime } from 'luxon';
import { zoneNamed } from '../../../zones';
import type { Check, CheckContext } from '../types';

/** How rare finding no desk must be where a site promises nothing. */
const CHANCE = 0.01;

/** What of an estate the desks of a site depend on, with those whose roster leads there. */
function sentTo({ estate }: Pick<CheckContext, 'estate'>, site: Site) {
  const sent = estate.people.filter(({ roster = [] }) => roster.some((entry) => entry.site === site.id));
  const { desks, devices, schedules } = estate;
  return { sent, of: [site, desks, devices, schedules, ...sent] };
}

export const desksTooFew: Check = {
  id: 'desks-too-few',
  of: 'organisation',
  weight: 'risk',
  title: 'Too few shared desks',
  looksFor:
    'Sites to which rosters send more people this week than find a desk in 99 of 100 half hours alike, and that promise nothing else.',
  why: 'Whoever finds no desk is signed on nowhere, and is reached only by what rings without one.',
  run: ({ estate, nowMs, keep }) =>
    (estate.sites ?? []).flatMap((site) => {
      const { sent, of } = sentTo({ estate }, site);
      if (sent.length === 0 || site.deskPromises?.some(({ schedule }) => schedule === undefined)) return [];
      const zone = site.timeZone ?? estate.timeZone;
      const { fromMs, toMs } = weekAt(nowMs, zone);
      const found = keep(`desks at ${site.id}`, [...of, fromMs, toMs], () =>
        enoughDesks(estate, site.id, fromMs, toMs, CHANCE),
      );
      const worst = worstOf(found);
      if (found.needed <= found.desks || !worst) return [];
      const at = DateTime.fromMillis(worst.fromMs, { zone: zoneNamed(zone) }).setLocale('en');
      return [
        {
          subject: { kind: 'site' as const, id: site.id, name: site.name },
          says: `${site.name} has ${found.desks} shared desks and needs ${found.needed}: on ${at.toFormat('cccc')} at ${at.toFormat('HH:mm')} somebody finds none in ${sayChance(worst.chance)} of such half hours.`,
          evidence: [{ text: 'Shared desks' }],
        },
      ];
    }),
};

export const deskPromiseBroken: Check = {
  id: 'desk-promise-broken',
  of: 'organisation',
  weight: 'fault',
  title: 'A promise about shared desks does not hold',
  looksFor:
    'Sites that promise that nobody is without a desk, in a half hour of these four weeks in which it is not so, or is so only if whoever comes sits where they may.',
  why: 'What was promised to those who come there does not hold by the roster.',
  run: ({ estate, nowMs, keep }) =>
    (estate.sites ?? []).flatMap((site) => {
      if (!site.deskPromises?.length) return [];
      const zone = site.timeZone ?? estate.timeZone;
      const { sent, of } = sentTo({ estate }, site);
      if (sent.length === 0) return [];
      const week = weekAt(nowMs, zone).fromMs;
      const verdicts = keep(`desk promises at ${site.id}`, [...of, week], () =>
        judgeDeskPromises(estate, site, nowMs),
      );
      return verdicts.flatMap((verdict, n) => {
        const { promise, standing, worst } = verdict;
        if (standing === 'holds' || !worst) return [];
        const at = DateTime.fromMillis(worst.fromMs, { zone: zoneNamed(zone) }).setLocale('en');
        return [
          {
            subject: { kind: 'site' as const, id: site.id, name: site.name },
            detail: promise.schedule ?? 'all',
            weight: standing === 'broken' ? 'fault' : 'risk',
            says: `${site.name}: “${sayDeskPromise(promise, estate.schedules)}” ${standing === 'broken' ? 'does not hold' : 'is not certain'}. On ${at.toFormat('cccc d LLLL')} at ${at.toFormat('HH:mm')} somebody finds none in ${sayChance(worst.chance)} of such half hours; ${sayNeeded(verdict)}.`,
            evidence: [{ text: 'The promise', setting: settingOf('sites', site.id, ['deskPromises', n]) }],
          },
        ];
      });
    }),
};

export const noDeskAllows: Check = {
  id: 'no-desk-allows',
  of: 'organisation',
  weight: 'risk',
  title: 'Sent where no desk allows them',
  looksFor: 'People whose roster sends them to a site at which no shared desk allows them.',
  why: 'They come to work and cannot sign on anywhere: their desk phone rings nobody.',
  run: ({ estate }) =>
    (estate.sites ?? []).flatMap((site) =>
      withoutDesk(estate, site.id).map((person) => ({
        subject: { kind: 'person' as const, id: person.id, name: person.name },
        detail: site.id,
        says: `The roster of ${person.name} leads to ${site.name}, where no shared desk allows them.`,
        evidence: [{ text: 'Roster', setting: settingOf('people', person.id, 'roster') }],
      })),
    ),
};
