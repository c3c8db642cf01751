import type { Device, Estate, Person, Site } from '../../estate';
import {
  outcomeText,
  runCall,
  ANY_OUTSIDE_CALLER,
  type Call,
  type EstateIndex,
  type Outcome,
} from '../../calls/engine';
import { isoIn } from '../../calls/time';
import { isNewEnough, modelOf } from '../phones';

/** One step of setting a branch relay up, and whether it is done. */
export interface RelayStep {
  readonly id: 'model' | 'room' | 'address' | 'on' | 'firmware' | 'moved';
  /** null: nobody has said. */
  readonly holds: boolean | null;
  readonly says: string;
}

/** The phones of a site that get out by its relay, and those that could. */
export function phonesByRelay({ devices = [] }: Pick<Estate, 'devices'>, site: Site) {
  const others = devices.filter((each) => each.site === site.id && each.id !== site.relay?.device);
  const can = ({ model }: Device) => modelOf(model)?.methods.includes('branch-relay') === true;
  return {
    by: others.filter(({ natMethod }) => natMethod === 'branch-relay'),
    movable: others.filter((each) => each.natMethod !== 'branch-relay' && can(each)),
    unable: others.filter((each) => each.natMethod !== 'branch-relay' && !can(each)),
  };
}

/** What setting a branch relay up takes, in the order in which it is done. */
export function relaySteps(estate: Pick<Estate, 'devices'>, site: Site): readonly RelayStep[] {
  const relay = estate.devices?.find(({ id }) => id === site.relay?.device);
  const model = relay && modelOf(relay.model);
  if (!relay || !site.relay) return [];
  const { by, movable, unable } = phonesByRelay(estate, site);
  const room = model?.relaysFor ?? 0;
  const { firmware } = relay;
  const left = movable.length + unable.length;
  return [
    {
      id: 'model',
      holds: model ? model.relaysFor > 0 : null,
      says: model
        ? `${relay.name} is a ${model.name}, which ${room > 0 ? `relays for ${room} phones at most` : 'cannot relay'}.`
        : `The model of ${relay.name} is not known.`,
    },
    {
      id: 'room',
      holds: model ? by.length <= room : null,
      says: `${by.length === 1 ? '1 phone gets' : `${by.length} phones get`} out by it.`,
    },
    {
      id: 'address',
      holds: site.stableAddress === true,
      says: 'Its address stays the same: a lease that changes would leave the others without it.',
    },
    { id: 'on', holds: site.relay.alwaysOn, says: 'It stays on when everybody has gone home.' },
    {
      id: 'firmware',
      holds: model && firmware !== undefined ? isNewEnough(firmware, model.firmwareLeast) : null,
      says:
        firmware === undefined
          ? `Its firmware is not known${model ? `; ${model.firmwareLeast} is needed at least` : ''}.`
          : `It runs ${firmware}${model ? `; ${model.firmwareLeast} is needed at least` : ''}.`,
    },
    {
      id: 'moved',
      holds: left === 0 && by.length > 0,
      says:
        left === 0
          ? 'Every other phone here gets out by it.'
          : `${left} of the other phones here ${left === 1 ? 'gets' : 'get'} out another way${
              unable.length > 0
                ? `; ${unable.length} cannot do it by ${unable.length === 1 ? 'its' : 'their'} model`
                : ''
            }.`,
    },
  ];
}

/** Devices moved over to the relay of their site, each with what it was before. */
export const movedOver = (
  estate: Pick<Estate, 'devices'>,
  site: Site,
): readonly { readonly before: Device; readonly after: Device }[] =>
  phonesByRelay(estate, site).movable.map((before) => ({
    before,
    after: { ...before, natMethod: 'branch-relay' },
  }));
/** Those that get out by the relay, as phones that have none: before it is taken away. */
export const movedBack = (
  estate: Pick<Estate, 'devices'>,
  site: Site,
): readonly { readonly before: Device; readonly after: Device }[] =>
  phonesByRelay(estate, site).by.map((before) => {
    const { natMethod: _method, ...after } = before;
    return { before, after };
  });

/** Somebody whose calls go otherwise when a relay stops. */
export interface RelayLoss {
  readonly person: Pick<Person, 'id' | 'name'>;
  readonly call: Call;
  readonly outcome: Outcome;
  readonly before: string;
  readonly after: string;
  /** Nobody answers them any more, whatever else the plan does. */
  readonly isSilent: boolean;
}

/**
 * What becomes of calls when the branch relay of a site stops: each person of whom a phone falls silent is called with
 * those phones gone and answered a moment after they ring, as they were before.
 * @param epochMs ms since 1970
 */
export function whenRelayStops(index: EstateIndex, site: Site, epochMs: number): readonly RelayLoss[] {
  const { estate } = index;
  const relay = estate.devices?.find(({ id }) => id === site.relay?.device);
  if (!relay) return [];
  const gone = [relay, ...phonesByRelay(estate, site).by].flatMap(({ endpoint }) => endpoint ?? []);
  const owners = new Set(gone.flatMap((id) => index.endpoints.get(id)?.owner ?? []));
  const people = owners.size > 1 ? estate.people.filter((person) => owners.has(person)) : [...owners];
  return people.flatMap((person) => {
    const [line] = person.lines;
    if (!line) return [];
    const call: Call = { from: ANY_OUTSIDE_CALLER, to: line.extension, at: isoIn(epochMs, estate.timeZone) };
    const with_ = (endpoints: NonNullable<NonNullable<Call['world']>['endpoints']>) =>
      runCall(index, { ...call, world: { endpoints } });
    const answered = Object.fromEntries(person.endpoints.map(({ id }) => [id, { answerAfterMs: 4000 }]));
    const stopped = {
      ...answered,
      ...Object.fromEntries(gone.map((id) => [id, { state: 'unregistered' as const }])),
    };
    const [before, after] = [with_(answered), with_(stopped)];
    return [
      {
        person: { id: person.id, name: person.name },
        call: { ...call, world: { endpoints: stopped } },
        outcome: after.outcome,
        before: outcomeText(index, before.outcome),
        after: outcomeText(index, after.outcome),
        isSilent: before.outcome.kind === 'answered' && after.outcome.kind !== 'answered',
      },
    ];
  });
}
