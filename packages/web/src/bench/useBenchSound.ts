import { useEffect } from 'react';
import { isMeant } from '@hexenkessel/core/engine';
import type { Sound, SoundName } from '@hexenkessel/core/protocol';
import type { SoundRef } from '@hexenkessel/core/stages';
import { problemOf, useSoundNamesQuery } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';
import { useSoundById } from '../sounds/useSounds.ts';

interface BenchSound {
  /** What all are called. Undefined until the list has come. */
  readonly sounds: readonly SoundName[] | undefined;
  /** The sound that is asked for; without one that which the chain was made on, else the oldest source. */
  readonly sound: Sound | undefined;
  /** True while it is looked for. */
  readonly looking: boolean;
}

/**
 * The sound on the bench. When there is none of that id another takes its place by `onSound`, and that is said once. `made`:
 * the sound that the chain was made on, when the chain is there.
 */
export function useBenchSound(
  asked: string | null,
  made: { readonly on: SoundRef | undefined } | undefined,
  onSound: (id: string) => void,
): BenchSound {
  const { data: sounds } = useSoundNamesQuery();
  const wanted = useSoundById(asked);
  const unknown = asked !== null && wanted.settled && !wanted.sound;
  const other =
    (made?.on && sounds?.find((candidate) => isMeant(made.on!, candidate))) ??
    sounds?.findLast(({ kind }) => kind === 'source');
  const standIn = useSoundById(asked === null || unknown ? other?.id : null);

  const { error } = wanted;
  useEffect(() => {
    if (unknown && error) tellFailure('The sound could not be looked for', problemOf(error).detail);
  }, [unknown, error]);

  // Before the chain is there, nobody knows which one shall stand in its place.
  const gone = made !== undefined && unknown && !error;
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

  const looking = (asked !== null && !wanted.settled) || (otherId !== undefined && !standIn.settled && !wanted.sound);
  return { sounds, sound: wanted.sound ?? standIn.sound, looking };
}
