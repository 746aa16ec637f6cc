import { useSyncExternalStoreWithSelector } from 'use-sync-external-store/with-selector';
import type { Subject } from './subject.ts';

/** Something of a state outside React; rendered again only when it is another one. */
export function useSubject<T, S>(subject: Subject<T>, select: (state: T) => S, isEqual?: (a: S, b: S) => boolean): S {
  const read = () => subject.state;
  return useSyncExternalStoreWithSelector(subject.subscribe, read, read, select, isEqual);
}
