import { modelOf } from '../../core/devices/phones';
import { startsUntil } from '../../core/devices/provisioning';
import type { Db } from '../db';
import type { LiveEstate } from '../estate';
import { openSignOns } from './queries';

/** The shared desk at which somebody is signed on. */
export interface AtDesk {
  readonly name: string;
  /** Until when its phone starts again for them, ms since 1970; null: it is there. */
  readonly startsUntilMs: number | null;
}

/** Who is signed on at a shared desk now, by person. @param only left out: of everybody */
export async function atDesks(
  db: Db,
  { estate }: Pick<LiveEstate, 'estate'>,
  nowMs: number,
  only?: ReadonlySet<string>,
): Promise<ReadonlyMap<string, AtDesk>> {
  const desks = new Map((estate.desks ?? []).map((desk) => [desk.id, desk]));
  const devices = new Map((estate.devices ?? []).map((device) => [device.id, device]));
  return new Map(
    (await openSignOns(db))
      .filter(({ person }) => only?.has(person) ?? true)
      .map(({ person, desk: id, since }): [string, AtDesk] => {
        const desk = desks.get(id);
        const model = modelOf(devices.get(desk?.device ?? '')?.model ?? '');
        return [
          person,
          { name: desk?.name ?? id, startsUntilMs: startsUntil(model, since.getTime(), nowMs) },
        ];
      }),
  );
}
