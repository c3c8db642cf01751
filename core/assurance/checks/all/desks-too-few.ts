import { settingOf } from '../../../estate';
import { enoughDesks, weekAt, withoutDesk, worstOf } from '../../../desks';
import { DateTime } from 'luxon';
import { zoneNamed } from '../../../zones';
import type { Check } from '../types';

/** How rare finding no desk must be. */
const CHANCE = 0.01;
const percent = (chance: number) => `${Math.max(1, Math.round(chance * 100))} %`;

export const desksTooFew: Check = {
  id: 'desks-too-few',
  of: 'organisation',
  weight: 'risk',
  title: 'Too few shared desks',
  looksFor:
    'Sites to which rosters send more people this week than find a desk in 99 of 100 half hours alike.',
  why: 'Whoever finds no desk is signed on nowhere, and is reached only by what rings without one.',
  run: ({ estate, nowMs, keep }) =>
    (estate.sites ?? []).flatMap((site) => {
      const sent = estate.people.filter(({ roster = [] }) => roster.some((entry) => entry.site === site.id));
      if (sent.length === 0) return [];
      const zone = site.timeZone ?? estate.timeZone;
      const { fromMs, toMs } = weekAt(nowMs, zone);
      const { desks, devices, schedules } = estate;
      const found = keep(
        `desks at ${site.id}`,
        [site, desks, devices, schedules, fromMs, toMs, ...sent],
        () => enoughDesks(estate, site.id, fromMs, toMs, CHANCE),
      );
      const worst = worstOf(found);
      if (found.needed <= found.desks || !worst) return [];
      const at = DateTime.fromMillis(worst.fromMs, { zone: zoneNamed(zone) }).setLocale('en');
      return [
        {
          subject: { kind: 'site' as const, id: site.id, name: site.name },
          says: `${site.name} has ${found.desks} shared desks and needs ${found.needed}: on ${at.toFormat('cccc')} at ${at.toFormat('HH:mm')} somebody finds none in ${percent(worst.chance)} of such half hours.`,
          evidence: [{ text: 'Shared desks' }],
        },
      ];
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
