import { useEffect, useState, type ComponentType, type JSX } from 'react';
import { NotLoaded } from '../app/notLoaded.ts';

/** A part of a view whose code comes after the view itself can be used. */
export interface LaterPart<P> {
  readonly Part: (props: P) => JSX.Element | null;
  /** Brings its code along without showing it. */
  readonly fetch: () => Promise<void>;
}

/**
 * Once its code is there, the part is shown at once, in the same step: keys that are typed right after the one that opens
 * it are its own. (React's own `lazy` waits for the next step at least.) After a failure `load` is asked again.
 */
export function laterPart<P extends object>(
  load: () => Promise<ComponentType<P>>,
  /** Stands in its place until it has come. */
  meanwhile: JSX.Element | null = null,
): LaterPart<P> {
  let Loaded: ComponentType<P> | undefined;
  let coming: Promise<void> | undefined;
  const fetch = () =>
    (coming ??= load().then(
      (component) => void (Loaded = component),
      (cause: unknown) => {
        coming = undefined;
        throw new NotLoaded(cause);
      },
    ));
  const Part = (props: P) => {
    const [, setCome] = useState(Loaded !== undefined);
    const [fault, setFault] = useState<unknown>();
    useEffect(() => {
      let wanted = true;
      if (!Loaded)
        fetch().then(
          () => wanted && setCome(true),
          (error: unknown) => wanted && setFault(error),
        );
      return () => void (wanted = false);
    }, []);
    if (fault !== undefined) throw fault;
    return Loaded ? <Loaded {...props} /> : meanwhile;
  };
  return { Part, fetch };
}

/** Fetches parts once the view can be used, so that they are there when they are asked for. */
export function useFetchedLater(usable: boolean, parts: readonly Pick<LaterPart<never>, 'fetch'>[]): void {
  useEffect(() => {
    if (!usable) return undefined;
    // After what is being shown just now.
    const timer = setTimeout(() => {
      for (const { fetch } of parts) fetch().catch(() => undefined); // asked again, and told, when it is shown
    }, 50);
    return () => clearTimeout(timer);
  }, [usable, parts]);
}
