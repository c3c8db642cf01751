import { languageName } from '../../devices/provisioning';
import { showNumber, showNumbersIn } from '../../calls/dialling';
import { endingPhrase, type EstateIndex } from '../../calls/engine';
import { describeTreatment, describeWhen, plain } from '../../calls/views';
import {
  andList,
  capital,
  fieldsAt,
  PLACE_KINDS,
  type Ending,
  type Field,
  type Fields,
  type Person,
  type Treatment,
} from '../../estate';
import { namesOf, saySettings, type Names } from '../slate';

/** A part of a set-up to be read or printed: each line whole by itself. */
export interface SetUpPart {
  readonly title: string;
  readonly lines: readonly string[];
}

/** The settings of an object, by the table of fields. */
const fieldsOf = (path: string): Fields => fieldsAt(path, 'person').at(-1)?.of?.() ?? {};
const without = (fields: Fields, ...left: readonly string[]): Fields =>
  Object.fromEntries(Object.entries(fields).filter(([key]): boolean => !left.includes(key)));
const asField = (of: Fields): Field => ({ says: '', holds: 'object', of: () => of });

const TARGET = without(fieldsOf('plan.otherwise.stages.ring'), 'endpoint');
const OFFER = fieldsOf('plan.otherwise.stages.offer');
const CODE = fieldsOf('plan.otherwise.stages.code');
const ENDING = fieldsOf('plan.otherwise.ending');
const ENDPOINT = without(fieldsOf('endpoints'), 'id', 'label', 'kind');
const GREETING = fieldsOf('mailbox.greeting');

/** What the phrase of an ending leaves out: whose number shows, and the colleague's agreement. */
function endingNotes(ending: Ending, names: Names): string[] {
  const last = ending.kind === 'queue' ? ending.then : ending;
  const notes = {
    ...('present' in last ? { present: last.present } : {}),
    ...('agreedOn' in last ? { agreedOn: last.agreedOn } : {}),
  };
  const said = saySettings(notes, asField(ENDING), names);
  return said ? [`There: ${said}.`] : [];
}

/** What a treatment does: its sentence, then the settings of each step that the sentence leaves out. */
function treatmentLines(index: EstateIndex, treatment: Treatment, person: Person, names: Names): string[] {
  const say = (value: object, fields: Fields) => saySettings(value, asField(fields), names);
  const phone = (id: string) => names[id] ?? id;
  const details = treatment.stages.flatMap((stage, i): string[] => {
    const step = treatment.stages.length > 1 ? `Step ${i + 1}, ` : '';
    if ('offer' in stage) return [`${step}greeting: ${say(stage.offer, OFFER)}`];
    if ('code' in stage) return [`${step}caller code: ${say(stage.code, CODE)}`];
    return stage.ring.flatMap((target) => {
      const said = say(target, TARGET);
      return said ? [`${step}${phone(target.endpoint)}: ${said}`] : [];
    });
  });
  return [
    plain(describeTreatment(index, treatment, person.id)),
    ...details.map(capital),
    ...endingNotes(treatment.ending, names),
    ...(treatment.busy ? [`When busy: ${say(treatment.busy, ENDING)}`] : []),
  ];
}

/** A person's whole set-up in words, part by part: every setting that they have, and none that they have not. */
export function personSetUp(index: EstateIndex, person: Person): readonly SetUpPart[] {
  const { estate } = index;
  const found = namesOf(estate);
  const names: Names = Object.fromEntries([
    ...found,
    ...person.lines.map(({ id, extension }) => [id, `line ${extension}`]),
    ...person.endpoints.map(({ id, label }) => [id, label]),
  ]);
  const nameOf = (id: string) => names[id] ?? id;
  const ending = (value: Parameters<typeof endingPhrase>[1]) => endingPhrase(index, value, person.id);
  const { plan, mailbox = {} } = person;
  const rules = plan.rules.map((rule, i) => ({
    title: `Rule ${i + 1}: ${rule.name}`,
    lines: [`${describeWhen(index, rule.when, person)}.`, ...treatmentLines(index, rule, person, names)],
  }));
  const parts: readonly SetUpPart[] = [
    {
      title: 'Name, lines and permission',
      lines: [
        `Status: ${nameOf(person.status)}`,
        `Permission: ${nameOf(person.permission)}`,
        `Calls at once: ${person.maxCalls}`,
        ...(person.template === undefined ? [] : [`Template: ${nameOf(person.template)}`]),
        ...person.lines.map(({ extension, numbers }) =>
          numbers.length > 0
            ? `Line ${extension}, direct ${andList(numbers.map(showNumber))}`
            : `Line ${extension}, no direct number`,
        ),
      ],
    },
    {
      title: 'Call forwarding',
      lines: person.lines.flatMap(({ extension, forwardAll, forwardUntil, forwardAfter }) =>
        forwardAll || forwardUntil || forwardAfter
          ? [
              `Line ${extension}, always: ${forwardAll ? ending(forwardAll) : 'off'}${
                forwardUntil
                  ? `, until ${forwardUntil}, then ${forwardAfter ? ending(forwardAfter) : 'off'}`
                  : ''
              }`,
            ]
          : [],
      ),
    },
    ...rules,
    {
      title: rules.length > 0 ? 'Default rule' : 'Every call',
      lines: treatmentLines(index, plan.otherwise, person, names),
    },
    {
      title: 'Phones',
      lines: person.endpoints.map((endpoint) =>
        [`${endpoint.label}: ${PLACE_KINDS[endpoint.kind]}`, saySettings(endpoint, asField(ENDPOINT), names)]
          .filter(Boolean)
          .join(', '),
      ),
    },
    {
      title: 'Voicemail',
      lines: [
        mailbox.enabled === false ? 'Takes no messages.' : 'Takes messages.',
        ...(mailbox.copyTo ?? []).map((id) => `A copy goes to ${nameOf(id)}.`),
        ...(mailbox.greeting ? [`Greeting: ${saySettings(mailbox.greeting, asField(GREETING), names)}`] : []),
      ],
    },
    {
      title: 'Calls out',
      lines: [
        ...(person.callsFrom ?? []).map(
          ({ status, endpoint }) => `While ${nameOf(status)}: from ${nameOf(endpoint)}`,
        ),
        ...(person.showing ?? []).map(
          ({ status, shows }) =>
            `${status === undefined ? 'With any other status' : `While ${nameOf(status)}`}: shows ${SHOWN[shows] ?? shows}`,
        ),
      ],
    },
    {
      title: 'Language at phones',
      lines: person.language === undefined ? [] : [languageName(person.language)],
    },
    {
      title: 'Roster',
      lines: (person.roster ?? []).map(({ site, schedule, share }) =>
        [
          nameOf(site),
          `in ${nameOf(schedule)}`,
          ...(share === undefined ? [] : [`${Math.round(share * 1000) / 10} % of the time`]),
        ].join(', '),
      ),
    },
    {
      title: 'Rung also by',
      lines: rungBy(index, person),
    },
  ];
  return parts
    .filter(({ lines }) => lines.length > 0)
    .map(({ title, lines }) => ({ title, lines: lines.map(showNumbersIn) }));
}

/** Which number shows, where it is none that is written out. */
const SHOWN: Readonly<Record<string, string>> = {
  own: 'the own direct number',
  organisation: 'the number of the organisation',
  withheld: 'no number',
};

/** What else rings this person’s phones: groups, and plans of colleagues. */
function rungBy({ estate }: EstateIndex, person: Person): string[] {
  const own = new Set(person.endpoints.map(({ id }) => id));
  const groups = estate.groups.filter(({ members }) =>
    members.some((member) =>
      'person' in member ? member.person === person.id : 'endpoint' in member && own.has(member.endpoint),
    ),
  );
  const colleagues = estate.people.filter(
    ({ id, plan }) =>
      id !== person.id &&
      [...plan.rules, plan.otherwise].some(({ stages }) =>
        stages.some(
          (stage) =>
            'ring' in stage &&
            stage.ring.some(({ endpoint, enabled }) => enabled !== false && own.has(endpoint)),
        ),
      ),
  );
  return [
    ...groups.map(
      ({ name, extension, members }) => `Group ${name}, ${extension}, with ${members.length} members`,
    ),
    ...colleagues.map(({ name }) => `The plan of ${name}`),
  ];
}
