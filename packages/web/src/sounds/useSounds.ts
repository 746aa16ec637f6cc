import type { Sound } from '@hexenkessel/core/protocol';
import { useSoundsOfQuery } from '../api/api.ts';

interface Asked {
  readonly sound: Sound | undefined;
  /** True once the server has said whether it is there. */
  readonly settled: boolean;
  readonly error?: unknown;
}

/** One sound by its id; none is looked for without one. */
export function useSoundById(id: string | null | undefined): Asked {
  const none = id === null || id === undefined;
  const { currentData, isFetching, error } = useSoundsOfQuery(none ? [] : [id], { skip: none });
  const sound = currentData?.[0];
  return { sound, settled: sound !== undefined || (!none && !isFetching), error };
}

const NONE: readonly Sound[] = [];

/** Sounds by their ids, in that order; those that are known while others are on their way. */
export function useSoundsOf(ids: readonly string[]): readonly Sound[] {
  const { data } = useSoundsOfQuery(ids, { skip: ids.length === 0 });
  return ids.length === 0 ? NONE : (data ?? NONE);
}
