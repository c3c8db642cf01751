import { callBackOf, callsByUs, emergencyTrunkOf, isOld, saysOwnPlace } from '../../../emergency';
import { settingOf, type Estate } from '../../../estate';
import { devicesOf } from '../devices';
import { foundIn } from '../parts';
import type { Check, Evidence } from '../types';

/** Phones and people that are named with a finding; the others are counted. */
const MOST_NAMED = 12;
const organisation = ({ name }: Estate) => ({ kind: 'organisation' as const, id: 'organisation', name });

/** The first of so many. */
const firstOf = (rows: readonly Evidence[], count: number): readonly Evidence[] => [
  ...rows.slice(0, MOST_NAMED),
  ...(count > MOST_NAMED ? [{ text: `and ${count - MOST_NAMED} more` }] : []),
];

export const placeUnknown: Check = {
  id: 'place-unknown',
  of: 'organisation',
  weight: 'risk',
  title: 'Phones that move, and nobody has said where they are',
  looksFor: 'Softphones and outside phones of which no place was said.',
  why: 'Registered from elsewhere than a site whose addresses are known, they call for help without a place.',
  run: ({ estate, parts }) => {
    const ofEach = parts('places nobody said', (person) => {
      const unsaid = person.endpoints.filter(
        (each) =>
          callsByUs(each) && saysOwnPlace(each) && !each.place && devicesOf(estate, each.id).length === 0,
      );
      return unsaid.length > 0 ? { person, unsaid } : null;
    });
    const unsaid = foundIn(ofEach);
    const phones = unsaid.reduce((sum, each) => sum + each.unsaid.length, 0);
    if (phones === 0) return [];
    const knowsAddresses = (estate.sites ?? []).some(({ addressRanges = [] }) => addressRanges.length > 0);
    return [
      {
        subject: organisation(estate),
        says: `Nobody has said where ${
          phones === 1 ? 'a softphone or outside phone is' : `${phones} softphones and outside phones are`
        }: ${knowsAddresses ? 'unless registered from a site’s addresses, they call' : 'they call'} for help without a place.`,
        evidence: firstOf(
          // No more of them are named, however many there are.
          unsaid.slice(0, MOST_NAMED).flatMap((each) =>
            each.unsaid.map(({ id, label }): Evidence => ({
              text: `${each.person.name}: ${label}`,
              setting: settingOf('people', each.person.id, ['endpoints', id], 'place'),
            })),
          ),
          phones,
        ),
      },
    ];
  },
};

export const placeStale: Check = {
  id: 'place-stale',
  of: 'person',
  weight: 'risk',
  title: 'A place that was said long ago',
  looksFor: 'Softphones and outside phones whose place was said more than 90 days ago.',
  why: 'Help is sent to where the phone was, and nobody has been asked since whether it still is.',
  run: (person, { nowMs }) =>
    person.endpoints.flatMap((endpoint) =>
      endpoint.place && saysOwnPlace(endpoint) && isOld(endpoint.place, nowMs)
        ? [
            {
              detail: endpoint.id,
              says: `Where ${person.name}’s ${endpoint.label} is was last said on ${endpoint.place.saidOn}.`,
              evidence: [
                {
                  text: 'Where it is',
                  setting: settingOf('people', person.id, ['endpoints', endpoint.id], 'place'),
                },
              ],
            },
          ]
        : [],
    ),
};

export const emergencyTrunkElsewhere: Check = {
  id: 'emergency-trunk-elsewhere',
  of: 'organisation',
  weight: 'fault',
  title: 'Emergency calls leave by another trunk',
  looksFor: 'Sites whose emergency calls are to leave by a trunk that they do not go by.',
  why: 'The trunk decides which emergency desk answers: it may be one of another town.',
  run: ({ estate }) => {
    const trunk = emergencyTrunkOf(estate);
    return (estate.sites ?? []).flatMap((site) =>
      site.emergencyTrunk === undefined || site.emergencyTrunk === trunk?.id
        ? []
        : [
            {
              subject: { kind: 'site' as const, id: site.id, name: site.name },
              says: `Emergency calls from ${site.name} are to leave by the trunk ${
                estate.trunks.find(({ id }) => id === site.emergencyTrunk)?.name ?? site.emergencyTrunk
              }, and ${trunk ? `go by ${trunk.name}` : 'no trunk carries them'}.`,
              evidence: [
                { text: 'The trunk of the site', setting: settingOf('sites', site.id, 'emergencyTrunk') },
                ...(trunk
                  ? [{ text: 'What it carries', setting: settingOf('trunks', trunk.id, 'carries') }]
                  : []),
              ],
            },
          ],
    );
  },
};

export const noCallBack: Check = {
  id: 'no-call-back',
  of: 'organisation',
  weight: 'risk',
  title: 'Nobody can call back in an emergency',
  looksFor: 'People with phones of the organisation and no direct number.',
  why: 'When the emergency call is cut off, the emergency desk calls the number that was shown, and somebody else answers or nobody.',
  run: ({ estate, parts }) => {
    const without = foundIn(
      parts('nobody calls back', (person) =>
        person.endpoints.some(callsByUs) && callBackOf(person) === null ? person : null,
      ),
    );
    return without.length === 0
      ? []
      : [
          {
            subject: organisation(estate),
            says: `${
              without.length === 1 ? 'One person has' : `${without.length} people have`
            } no direct number: when their emergency call is cut off, nobody can call them back.`,
            evidence: firstOf(
              without
                .slice(0, MOST_NAMED)
                .map(({ id, name }) => ({ text: name, setting: settingOf('people', id, 'lines') })),
              without.length,
            ),
          },
        ];
  },
};
