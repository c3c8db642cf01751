import { Component, lazy, Suspense, type ComponentType, type ReactNode } from 'react';
import { Skeleton, Trouble } from './parts';

const wanted: (() => Promise<unknown>)[] = [];

/**
 * A screen whose code is fetched when it is first shown, so that the first screen does not wait for all others; while
 * it is on its way a skeleton stands there, and if it cannot be had a way to try again.
 */
export function later<P extends object>(load: () => Promise<ComponentType<P>>): ComponentType<P> {
  wanted.push(load);
  const Screen = lazy(async () => ({ default: await load() }));
  return function Later(props: P) {
    return (
      <Fetched>
        <Suspense fallback={<Skeleton />}>
          <Screen {...props} />
        </Suspense>
      </Fetched>
    );
  };
}

/** How long the first screen has the line and the processor for itself. */
const FIRST_SCREEN_MS = 6000;

/** Fetches the code of all other screens, once the first one has had its time and nothing else is to be done. */
export function fetchTheRest(): void {
  const next = () => {
    const load = wanted.shift();
    if (load)
      void load()
        .catch(() => undefined)
        .then(() => setTimeout(next, 50));
  };
  setTimeout(() => {
    if ('requestIdleCallback' in globalThis) requestIdleCallback(next);
    else next();
  }, FIRST_SCREEN_MS);
}

/** React asks for a class here: only a class can catch what its children throw. */
class Fetched extends Component<{ readonly children: ReactNode }, { readonly failed: boolean }> {
  override state = { failed: false };
  static getDerivedStateFromError = () => ({ failed: true });
  override render() {
    return this.state.failed ? (
      <Trouble
        message="This page could not be fetched. Check that the server runs, and try again."
        retry={() => window.location.reload()}
      />
    ) : (
      this.props.children
    );
  }
}
