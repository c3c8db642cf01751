import { isRegisteredAs, type Call, type EstateIndex, type Seen } from '../engine';

/** A call's world as what is seen of it: the same answers whichever leg and moment is asked for. */
export function worldOf(index: EstateIndex, call: Call): Seen {
  const { world } = call;
  return {
    leg: (_, endpoint) => world?.endpoints?.[endpoint] ?? {},
    isRegistered: (endpoint) =>
      isRegisteredAs(world?.endpoints?.[endpoint]?.state, index.endpoints.get(endpoint)?.times.wakes),
    press: (id, _, keys) => {
      const press = world?.presses?.[id];
      return press && keys.includes(press.key) ? press : null;
    },
    code: () => world?.code ?? null,
    channelsInUse: (trunk) => world?.trunkUse?.[trunk] ?? 0,
    activeCalls: (person) => world?.activeCalls?.[person] ?? 0,
  };
}
