import type { Estate } from '../core/estate';
import type { PhoneModel } from '../core/devices/phones';
import { deskModel, restartsForMs } from '../core/devices/provisioning';
import type { Clock } from './sip/clock';

/** The phones of shared desks that start again for whoever signs on or off: each is away until its time has come. */
export function deskStarts(means: {
  readonly clock: Clock;
  readonly estate: () => Pick<Estate, 'desks' | 'devices'> | undefined;
  /** How long a model takes, ms; left out: as its catalogue says. */
  readonly forMs?: ((model: PhoneModel | undefined) => number) | undefined;
  readonly takeDown: (endpoint: string) => Promise<void>;
  /** What is done once it is there again, or where it does not have to start again. */
  readonly comesBack: (endpoint: string) => Promise<void>;
}) {
  const waits = new Map<string, () => void>();
  return {
    has: (endpoint: string): boolean => waits.has(endpoint),
    /** One that starts again while it is starting begins anew. */
    again: async (endpoint: string, desk: string): Promise<void> => {
      const estate = means.estate() ?? {};
      const known = estate.desks?.find(({ id }) => id === desk);
      const ms = (means.forMs ?? restartsForMs)(known && deskModel(estate, known));
      if (ms === 0) return void means.comesBack(endpoint);
      await means.takeDown(endpoint);
      waits.get(endpoint)?.();
      const callOff = means.clock.after(ms, () => {
        waits.delete(endpoint);
        void means.comesBack(endpoint);
      });
      waits.set(endpoint, callOff);
    },
    close: (): void => {
      for (const callOff of waits.values()) callOff();
      waits.clear();
    },
  };
}
