import { settingOf, type Person } from '../../../estate';
import {
  desksAt,
  enoughDesks,
  judgeDeskPromises,
  noneAllows,
  sayChance,
  sayDeskPromise,
  sayNeeded,
  weekAt,
  worstOf,
} from '../../../desks';
import { DateTime } from 'luxon';
import { zoneNamed } from '../../../zones';
import type { Check, CheckContext } from '../types';

/** How rare finding no desk must be where a site promises nothing. */
const CHANCE = 0.01;

/** Where somebody’s roster sends them, and all that whether there are desks enough depends on of them, as a text. */
const sentTo = (person: Person) => {
  const { id, template, status, roster = [] } = person;
  return roster.length === 0
    ? null
    : {
        keys: [...new Set(roster.map((entry) => entry.site))],
        of: JSON.stringify([id, template, status, roster]),
      };
};
/** The sites to which rosters send somebody, each with its week and with all that its desks depend on. */
const sitesInUse = ({ estate, nowMs, groupParts }: CheckContext) => {
  const sent = groupParts('rosters', sentTo);
  return (estate.sites ?? []).flatMap((site) => {
    if (!sent.all.has(site.id)) return [];
    const zone = site.timeZone ?? estate.timeZone;
    const week = weekAt(nowMs, zone);
    const { desks, devices, schedules } = estate;
    return [
      {
        site,
        subject: { kind: 'site' as const, id: site.id, name: site.name },
        week,
        of: [site, desks, devices, schedules, week.fromMs, week.toMs, sent.markOf(site.id)],
        at: (ms: number) => DateTime.fromMillis(ms, { zone: zoneNamed(zone) }).setLocale('en'),
      },
    ];
  });
};

export const desksTooFew: Check = {
  id: 'desks-too-few',
  of: 'organisation',
  weight: 'risk',
  title: 'Too few shared desks',
  looksFor:
    'Sites to which rosters send more people this week than find a desk in 99 of 100 half hours alike, and that promise nothing else.',
  why: 'Whoever finds no desk is signed on nowhere, and is reached only by what rings without one.',
  run: (context) =>
    sitesInUse(context).flatMap(({ site, subject, week, of, at }) => {
      if (site.deskPromises?.some(({ schedule }) => schedule === undefined)) return [];
      const found = context.keep(`desks at ${site.id}`, of, () =>
        enoughDesks(context.estate, site.id, week.fromMs, week.toMs, CHANCE),
      );
      const worst = worstOf(found);
      if (found.needed <= found.desks || !worst) return [];
      return [
        {
          subject,
          says: `${site.name} has ${found.desks} shared desks and needs ${found.needed}: on ${at(worst.fromMs).toFormat('cccc')} at ${at(worst.fromMs).toFormat('HH:mm')} somebody finds none in ${sayChance(worst.chance)} of such half hours.`,
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
  run: (context) =>
    sitesInUse(context).flatMap(({ site, subject, of, at }) => {
      if (!site.deskPromises?.length) return [];
      const verdicts = context.keep(`desk promises at ${site.id}`, of, () =>
        judgeDeskPromises(context.estate, site, context.nowMs),
      );
      return verdicts.flatMap((verdict, n) => {
        const { promise, standing, worst } = verdict;
        if (standing === 'holds' || !worst) return [];
        return [
          {
            subject,
            detail: `${promise.schedule ?? 'all'} ${promise.keeps}`,
            weight: standing === 'broken' ? 'fault' : 'risk',
            says: `${site.name}: “${sayDeskPromise(promise, context.estate.schedules)}” ${standing === 'broken' ? 'does not hold' : 'is not certain'}. On ${at(worst.fromMs).toFormat('cccc d LLLL')} at ${at(worst.fromMs).toFormat('HH:mm')} somebody finds none in ${sayChance(worst.chance)} of such half hours; ${sayNeeded(verdict)}.`,
            evidence: [{ text: 'The promise', setting: settingOf('sites', site.id, ['deskPromises', n]) }],
          },
        ];
      });
    }),
};

export const noDeskAllows: Check = {
  id: 'no-desk-allows',
  of: 'person',
  weight: 'risk',
  title: 'Sent where no desk allows them',
  looksFor: 'People whose roster sends them to a site at which no shared desk allows them.',
  why: 'They come to work and cannot sign on anywhere: their desk phone rings nobody.',
  run: (person, { estate, keep }) => {
    const { desks, devices, sites = [] } = estate;
    return [...new Set(person.roster?.map(({ site }) => site))].flatMap((id) => {
      const site = sites.find((each) => each.id === id);
      const here = keep(`desks that stand at ${id}`, [desks, devices], () => desksAt(estate, id));
      return !site || !noneAllows(here, person)
        ? []
        : [
            {
              detail: site.id,
              says: `The roster of ${person.name} leads to ${site.name}, where no shared desk allows them.`,
              evidence: [{ text: 'Roster', setting: settingOf('people', person.id, 'roster') }],
            },
          ];
    });
  },
};
