import { useEffect, useState } from 'react';
import { isMeant } from '@hexenkessel/core/engine';
import type { Sound } from '@hexenkessel/core/protocol';
import type { SoundRef } from '@hexenkessel/core/stages';
import { problemOf, useSoundsQuery } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';

interface BenchSound {
  /** Undefined until the list has come. */
  readonly sounds: readonly Sound[] | undefined;
  /** The sound that is asked for; without one that which the chain was made on, else the newest source. */
  readonly sound: Sound | undefined;
  /** True while it is looked for. */
  readonly looking: boolean;
}

/**
 * The sound on the bench. One that the list does not know yet, such as one just imported, is looked for anew before it is
 * called unknown; then another takes its place by `onSound`, and that is said once. `made`: the sound that the chain was made on, when the chain is there.
 */
export function useBenchSound(
  asked: string | null,
  made: { readonly on: SoundRef | undefined } | undefined,
  onSound: (id: string) => void,
): BenchSound {
  const { data: sounds, refetch } = useSoundsQuery();
  const found = sounds?.find(({ id }) => id === asked);
  const [unknown, setUnknown] = useState<string>();
  const other =
    (made?.on && sounds?.find((candidate) => isMeant(made.on!, candidate))) ??
    sounds?.findLast(({ kind }) => kind === 'source');
  const looking = sounds !== undefined && asked !== null && !found && unknown !== asked;

  useEffect(() => {
    if (!looking) return undefined;
    let wanted = true;
    void refetch().then(({ data, error }) => {
      if (!wanted || data?.some(({ id }) => id === asked)) return;
      setUnknown(asked);
      if (error) tellFailure('The sound could not be looked for', problemOf(error).detail);
    });
    return () => void (wanted = false);
  }, [looking, asked, refetch]);

  // Before the chain is there, nobody knows which one shall stand in its place.
  const gone = made !== undefined && asked !== null && unknown === asked && !found;
  const otherId = other?.id;
  const otherName = other?.name;
  useEffect(() => {
    if (!gone || otherId === undefined) return;
    tellFailure(
      'The sound of this link is not here',
      `It was deleted, or belongs to another store. “${otherName}” stands in its place.`,
    );
    onSound(otherId);
  }, [gone, otherId, otherName, onSound]);

  return { sounds, sound: found ?? (looking ? undefined : other), looking };
}
