import { Suspense, lazy, useEffect, type ComponentType, type JSX } from 'react';

/** A part of a view whose code comes after the view itself can be used. */
export interface LaterPart<P> {
  readonly Part: (props: P) => JSX.Element;
  /** Brings its code along without showing it. */
  readonly fetch: () => void;
}

/** `load` is asked again after a failure, when the part is shown the next time. */
export function laterPart<P extends object>(load: () => Promise<ComponentType<P>>): LaterPart<P> {
  const Loaded = lazy(async () => ({ default: await load() }));
  return {
    // As a component of no props in React's eyes, for it cannot know that those of `P` are all that there are.
    Part: (props: P) => {
      const Shown = Loaded as unknown as ComponentType<P>;
      return (
        <Suspense fallback={null}>
          <Shown {...props} />
        </Suspense>
      );
    },
    fetch: () => void load().catch(() => undefined),
  };
}

/** Milliseconds after which a view has surely shown what it is for. */
const SETTLED = 2500;

/** Fetches parts in a quiet moment, so that they are there when they are asked for. */
export function useFetchedLater(parts: readonly Pick<LaterPart<never>, 'fetch'>[]): void {
  useEffect(() => {
    const timer = setTimeout(() => parts.forEach(({ fetch }) => fetch()), SETTLED);
    return () => clearTimeout(timer);
  }, [parts]);
}
