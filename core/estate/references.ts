import { promiseListSchema } from './promise-schema';
import { faultsOf } from './schema';
import { addressBook, goingRound } from './network-texts';
import { INTERNET, type PathSettings } from './network-types';
import { knownIds, type Ids, type KnownIds } from './known-ids';
import { isPlace } from './places';
import type { Ending, Estate, Fault, Person, Plan, ReachPromise, RingTarget, Stage, When } from './types';

type Report = (path: string, message: string) => void;

const need = (report: Report, set: Ids, id: string | undefined, what: string, path: string) => {
  if (id !== undefined && !set.has(id)) report(path, `there is no ${what} "${id}"`);
};

function checkEnding(report: Report, ids: KnownIds, ending: Ending | null | undefined, path: string): void {
  if (!ending) return;
  switch (ending.kind) {
    case 'mailbox':
    case 'person':
      return need(report, ids.people, ending.person, 'person', `${path}.person`);
    case 'endpoint':
      return need(report, ids.endpoints, ending.endpoint, 'endpoint', `${path}.endpoint`);
    case 'group':
      return need(report, ids.groups, ending.group, 'group', `${path}.group`);
    case 'menu':
      return need(report, ids.menus, ending.menu, 'menu', `${path}.menu`);
    case 'queue':
      return checkEnding(report, ids, ending.then, `${path}.then`);
    case 'number':
    case 'sip':
    case 'hang-up':
      return;
  }
}

function checkTarget(report: Report, ids: KnownIds, target: RingTarget, path: string): void {
  need(report, ids.endpoints, target.endpoint, 'endpoint', `${path}.endpoint`);
  need(report, ids.schedules, target.schedule?.id, 'schedule', `${path}.schedule.id`);
  need(report, ids.endpoints, target.whileRegistered, 'endpoint', `${path}.whileRegistered`);
  need(report, ids.endpoints, target.unlessRegistered, 'endpoint', `${path}.unlessRegistered`);
}

function checkStage(report: Report, ids: KnownIds, stage: Stage, path: string): void {
  if ('ring' in stage) {
    stage.ring.forEach((target, i) => checkTarget(report, ids, target, `${path}.ring[${i}]`));
  } else if ('offer' in stage) {
    stage.offer.choices.forEach((choice, i) => {
      if (choice.then !== 'next') checkEnding(report, ids, choice.then, `${path}.offer.choices[${i}].then`);
    });
  } else {
    checkEnding(report, ids, stage.code.wrong, `${path}.code.wrong`);
  }
}

function checkWhen(report: Report, ids: KnownIds, lines: Ids, when: When, path: string): void {
  when.status?.forEach((id, i) => need(report, ids.statuses, id, 'status', `${path}.status[${i}]`));
  need(report, ids.schedules, when.schedule?.id, 'schedule', `${path}.schedule.id`);
  when.line?.forEach((id, i) => need(report, lines, id, 'line of this person', `${path}.line[${i}]`));
}

/** Faults in what one person refers to, and in ids that stand twice in the person; `path` is the person's own. */
export function personReferenceFaults(person: Person, ids: KnownIds, path: string): Fault[] {
  const faults: Fault[] = [];
  const report: Report = (at, message) => faults.push({ path: path ? `${path}.${at}` : at, message });
  need(report, ids.statuses, person.status, 'status', 'status');
  need(report, ids.permissions, person.permission, 'permission', 'permission');
  person.mailbox?.copyTo?.forEach((id, i) => need(report, ids.people, id, 'person', `mailbox.copyTo[${i}]`));
  const lines = new Set(person.lines.map((line) => line.id));
  person.lines.forEach((line, i) => {
    checkEnding(report, ids, line.forwardAll, `lines[${i}].forwardAll`);
    checkEnding(report, ids, line.forwardAfter, `lines[${i}].forwardAfter`);
    if (line.forwardUntil !== undefined && !line.forwardAll)
      report(`lines[${i}].forwardUntil`, 'is only for a line that is forwarded');
  });
  need(report, ids.templates, person.template, 'template', 'template');
  person.endpoints.forEach(({ path: way }, e) =>
    need(report, ids.sites, way?.site, 'site', `endpoints[${e}].path.site`),
  );
  person.roster?.forEach(({ schedule, site }, i) => {
    need(report, ids.schedules, schedule, 'schedule', `roster[${i}].schedule`);
    need(report, ids.sites, site, 'site', `roster[${i}].site`);
  });
  const own = new Set(person.endpoints.map(({ id }) => id));
  person.callsFrom?.forEach(({ status, endpoint }, i) => {
    need(report, ids.statuses, status, 'status', `callsFrom[${i}].status`);
    if (!own.has(endpoint)) report(`callsFrom[${i}].endpoint`, 'is none of the person’s phones');
  });
  person.showing?.forEach(({ status }, i) =>
    need(report, ids.statuses, status, 'status', `showing[${i}].status`),
  );
  checkPlan(report, ids, lines, person.plan, 'plan');
  return faults;
}

function checkPlan(report: Report, ids: KnownIds, lines: Ids, plan: Plan, path: string): void {
  unique(report, 'rule', plan.rules, `${path}.rules`);
  const treatments = [
    ...plan.rules.map((rule, i) => [rule, `${path}.rules[${i}]`] as const),
    [plan.otherwise, `${path}.otherwise`] as const,
  ];
  for (const [treatment, at] of treatments) {
    if ('when' in treatment) checkWhen(report, ids, lines, treatment.when, `${at}.when`);
    treatment.stages.forEach((stage, i) => checkStage(report, ids, stage, `${at}.stages[${i}]`));
    checkEnding(report, ids, treatment.ending, `${at}.ending`);
    checkEnding(report, ids, treatment.busy, `${at}.busy`);
  }
}

function unique(report: Report, what: string, objects: readonly { id: string }[], path: string): void {
  const seen = new Set<string>();
  objects.forEach((object, i) => {
    if (seen.has(object.id)) report(`${path}[${i}].id`, `there is a ${what} "${object.id}" already`);
    seen.add(object.id);
  });
}

function checkDialable(report: Report, estate: Estate): void {
  const owners = new Map<string, string>();
  const claim = (number: string, owner: string, path: string) => {
    const before = owners.get(number);
    if (before !== undefined) report(path, `${number} belongs to ${before} already`);
    else owners.set(number, owner);
  };
  estate.people.forEach((person, p) =>
    person.lines.forEach((line, l) => {
      claim(line.extension, person.name, `people[${p}].lines[${l}].extension`);
      line.numbers.forEach((n, i) => claim(n, person.name, `people[${p}].lines[${l}].numbers[${i}]`));
    }),
  );
  for (const kind of ['groups', 'menus'] as const)
    estate[kind].forEach((object, g) => {
      claim(object.extension, object.name, `${kind}[${g}].extension`);
      object.numbers?.forEach((n, i) => claim(n, object.name, `${kind}[${g}].numbers[${i}]`));
    });
  estate.seats?.forEach(({ extension, name }, s) => claim(extension, name, `seats[${s}].extension`));
  estate.accessNumbers?.forEach(({ number, name }, a) => claim(number, name, `accessNumbers[${a}].number`));
}

/** Faults of phones as things and of the places where they stand. */
function checkDevices(report: Report, ids: KnownIds, estate: Estate): void {
  const { sites = [], devices = [] } = estate;
  unique(report, 'site', sites, 'sites');
  unique(report, 'device', devices, 'devices');
  const known = { site: new Set(sites.map(({ id }) => id)), device: new Set(devices.map(({ id }) => id)) };
  const trunks = new Set(estate.trunks.map(({ id }) => id));
  sites.forEach(({ relay, emergencyTrunk, deskPromises = [] }, i) => {
    const promised = new Set<string>();
    deskPromises.forEach(({ schedule, keeps }, n) => {
      const path = `sites[${i}].deskPromises[${n}]`;
      need(report, ids.schedules, schedule, 'schedule', `${path}.schedule`);
      const key = JSON.stringify([schedule, keeps]);
      if (promised.has(key)) report(path, 'is promised already');
      promised.add(key);
    });
    need(report, known.device, relay?.device, 'device', `sites[${i}].relay.device`);
    need(report, trunks, emergencyTrunk, 'trunk', `sites[${i}].emergencyTrunk`);
  });
  checkNetworks(report, estate);
  checkDesks(report, ids, estate, known.device);
  const addresses = new Map<string, string>();
  devices.forEach(({ name, endpoint, site, macAddress, signedOn, keys }, i) => {
    const path = `devices[${i}]`;
    const places = new Set<number>();
    keys?.forEach(({ at, use, person, extension, number }, k) => {
      const key = `${path}.keys[${k}]`;
      if (places.has(at)) report(`${key}.at`, `key ${at} is laid out twice`);
      places.add(at);
      need(report, ids.people, person, 'person', `${key}.person`);
      if (use === 'watch' && person === undefined) report(`${key}.person`, 'is missing');
      if (use === 'line' && extension === undefined) report(`${key}.extension`, 'is missing');
      if (use === 'call' && number === undefined) report(`${key}.number`, 'is missing');
    });
    need(report, ids.endpoints, endpoint, 'endpoint', `${path}.endpoint`);
    need(report, known.site, site, 'site', `${path}.site`);
    need(report, ids.people, signedOn?.person, 'person', `${path}.signedOn.person`);
    if (macAddress === undefined) return;
    const other = addresses.get(macAddress);
    if (other !== undefined) report(`${path}.macAddress`, `belongs to ${other} already`);
    else addresses.set(macAddress, name);
  });
}

/** Faults of shared desks: each has a phone of its own. */
function checkDesks(
  report: Report,
  ids: KnownIds,
  { desks = [], devices: phones = [] }: Estate,
  devices: Ids,
): void {
  unique(report, 'desk', desks, 'desks');
  const taken = new Map<string, string>();
  const siteOf = new Map(phones.map(({ id, site }) => [id, site]));
  const spots = new Map<string, string>();
  desks.forEach(({ name, device, allowed, area, spot }, i) => {
    const path = `desks[${i}]`;
    need(report, devices, device, 'device', `${path}.device`);
    const other = taken.get(device);
    if (other !== undefined) report(`${path}.device`, `is the phone of ${other} already`);
    else taken.set(device, name);
    if (spot) {
      const place = JSON.stringify([siteOf.get(device), area, spot.column, spot.row]);
      const there = spots.get(place);
      if (there !== undefined) report(`${path}.spot`, `is where ${there} stands`);
      else spots.set(place, name);
    }
    allowed?.people?.forEach((id, at) =>
      need(report, ids.people, id, 'person', `${path}.allowed.people[${at}]`),
    );
    allowed?.templates?.forEach((id, at) =>
      need(report, ids.templates, id, 'template', `${path}.allowed.templates[${at}]`),
    );
    allowed?.statuses?.forEach((id, at) =>
      need(report, ids.statuses, id, 'status', `${path}.allowed.statuses[${at}]`),
    );
  });
}

/** Faults of what stands between sites and the internet, of servers, and of how phones get out. */
function checkNetworks(report: Report, { sites = [], devices = [], servers = [], people }: Estate): void {
  const boxes = new Map(
    sites.map(({ id, network }) => [id, new Set(network?.boxes.map((box) => box.id) ?? [])] as const),
  );
  sites.forEach(({ network }, i) => {
    const inside = network?.boxes ?? [];
    const path = `sites[${i}].network.boxes`;
    unique(report, 'box', inside, path);
    const own = new Set(inside.map(({ id }) => id));
    const round = goingRound(inside);
    const take = addressBook();
    inside.forEach((box, b) => {
      const at = `${path}[${b}]`;
      if (box.id === INTERNET) report(`${at}.id`, 'is the name of the internet');
      if (box.in !== INTERNET && !own.has(box.in))
        report(`${at}.in`, `there is no box "${box.in}" at this site`);
      if (round.has(box.id)) report(`${at}.in`, 'goes round: it never leads to the internet');
      for (const [network, field] of [
        [box.id, 'inside'],
        [box.in, 'outside'],
      ] as const) {
        const before = take(network, box[field], box.name);
        if (before) report(`${at}.${field}`, `${box[field]} is that of ${before} in the same network`);
      }
    });
  });
  unique(report, 'server', servers, 'servers');
  const kinds = new Map<string, string>();
  servers.forEach(({ kind, name, in: at }, i) => {
    const before = kinds.get(kind);
    if (before) report(`servers[${i}].kind`, `${before} is one already`);
    else kinds.set(kind, name);
    const [site = '', box = ''] = at.split('/');
    if (at !== INTERNET && !boxes.get(site)?.has(box))
      report(`servers[${i}].in`, `there is no network "${at}": internet, or a site’s box as SITE/BOX`);
  });
  const checkPath = (path: PathSettings | undefined, site: string | undefined, at: string) => {
    if (path?.in !== undefined && !boxes.get(site ?? '')?.has(path.in))
      report(`${at}.in`, `there is no box "${path.in}" at this site`);
  };
  devices.forEach(({ path, site }, i) => checkPath(path, site, `devices[${i}].path`));
  people.forEach(({ endpoints }, p) =>
    endpoints.forEach(({ path }, e) => checkPath(path, path?.site, `people[${p}].endpoints[${e}].path`)),
  );
}

function checkPromise(report: Report, ids: KnownIds, promise: ReachPromise, path: string): void {
  if (promise.kind === 'only-inside')
    need(report, ids.schedules, promise.schedule, 'schedule', `${path}.schedule`);
  if (promise.kind === 'no-leaver') need(report, ids.statuses, promise.status, 'status', `${path}.status`);
  if (promise.kind === 'no-stranger')
    promise.allowed.forEach((id, n) => need(report, ids.people, id, 'person', `${path}.allowed[${n}]`));
}

/** Checks a value as a list of promises for people of an estate: its form first, then what it refers to. */
export function promiseListFaults(value: unknown, estate: Estate): Fault[] {
  const form = faultsOf(promiseListSchema, value);
  if (form.length > 0) return form;
  const faults: Fault[] = [];
  const ids = knownIds(estate);
  (value as readonly ReachPromise[]).forEach((each, i) =>
    checkPromise((path, message) => faults.push({ path, message }), ids, each, `[${i}]`),
  );
  return faults;
}

/**
 * Faults between the objects of an estate that is right in form: ids that nothing has, ids, extensions and
 * numbers that two things have.
 * @returns the faults with their paths, in the order of the file; empty if there is none.
 */
export function referenceFaults(estate: Estate): Fault[] {
  const faults: Fault[] = [];
  const report: Report = (path, message) => faults.push({ path, message });
  const ids = knownIds(estate);
  unique(report, 'permission', estate.permissions, 'permissions');
  unique(report, 'trunk', estate.trunks, 'trunks');
  unique(report, 'schedule', estate.schedules, 'schedules');
  unique(report, 'status', estate.statuses, 'statuses');
  unique(report, 'person', estate.people, 'people');
  unique(report, 'group', estate.groups, 'groups');
  unique(report, 'menu', estate.menus, 'menus');
  const endpoints = new Set<string>();
  const lines = new Set<string>();
  estate.people.forEach((person, p) => {
    person.lines.forEach((line, i) => {
      if (lines.has(line.id)) report(`people[${p}].lines[${i}].id`, `there is a line "${line.id}" already`);
      lines.add(line.id);
    });
    person.endpoints.forEach((endpoint, i) => {
      if (endpoints.has(endpoint.id))
        report(`people[${p}].endpoints[${i}].id`, `there is an endpoint "${endpoint.id}" already`);
      endpoints.add(endpoint.id);
    });
    faults.push(...personReferenceFaults(person, ids, `people[${p}]`));
  });
  estate.groups.forEach((group, g) => {
    group.members.forEach((member, i) => {
      if ('person' in member)
        need(report, ids.people, member.person, 'person', `groups[${g}].members[${i}].person`);
      else if ('endpoint' in member)
        need(report, ids.endpoints, member.endpoint, 'endpoint', `groups[${g}].members[${i}].endpoint`);
      else need(report, ids.seats, member.seat, 'seat', `groups[${g}].members[${i}].seat`);
    });
    need(report, ids.permissions, group.permission, 'permission', `groups[${g}].permission`);
    checkEnding(report, ids, group.ending, `groups[${g}].ending`);
  });
  estate.menus.forEach((menu, m) => {
    const path = `menus[${m}]`;
    need(report, ids.permissions, menu.permission, 'permission', `${path}.permission`);
    unique(report, 'rule', menu.rules, `${path}.rules`);
    menu.rules.forEach((rule, r) => {
      const at = `${path}.rules[${r}]`;
      need(report, ids.schedules, rule.when.schedule?.id, 'schedule', `${at}.when.schedule.id`);
      rule.choices.forEach((choice, c) => checkEnding(report, ids, choice.then, `${at}.choices[${c}].then`));
      checkEnding(report, ids, rule.otherwise, `${at}.otherwise`);
    });
  });
  unique(report, 'template', estate.templates ?? [], 'templates');
  const inTemplates: KnownIds = {
    ...ids,
    endpoints: { has: (id) => isPlace(id) || ids.endpoints.has(id) },
  };
  estate.templates?.forEach((template, t) =>
    checkPlan(report, inTemplates, { has: isPlace }, template.plan, `templates[${t}].plan`),
  );
  unique(report, 'seat', estate.seats ?? [], 'seats');
  unique(report, 'access number', estate.accessNumbers ?? [], 'accessNumbers');
  estate.accessNumbers?.forEach(({ schedule }, a) =>
    need(report, ids.schedules, schedule?.id, 'schedule', `accessNumbers[${a}].schedule.id`),
  );
  unique(report, 'promise', estate.promises ?? [], 'promises');
  estate.promises?.forEach(({ promise, people }, i) => {
    const path = `promises[${i}]`;
    people?.forEach((id, n) => need(report, ids.people, id, 'person', `${path}.people[${n}]`));
    checkPromise(report, ids, promise, `${path}.promise`);
  });
  checkDevices(report, ids, estate);
  checkDialable(report, estate);
  return faults;
}
