import type { Switchboard } from '../types';

/** Waits for something to be so at a server's side of the phone system: looked at again at each event. */
export const until = (phones: Switchboard, isSo: () => boolean): Promise<void> =>
  new Promise((done) => {
    if (isSo()) return done();
    const stop = phones.subscribe(() => {
      if (!isSo()) return;
      stop();
      done();
    });
  });
