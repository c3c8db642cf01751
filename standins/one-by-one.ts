/** Work that is done one piece after the other; one that fails holds up none. */
export function oneByOne() {
  let queue: Promise<unknown> = Promise.resolve();
  return <T>(act: () => Promise<T>): Promise<T> => {
    const work = queue.then(act);
    queue = work.catch(() => undefined);
    return work;
  };
}
