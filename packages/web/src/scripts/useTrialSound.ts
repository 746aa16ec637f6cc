import { useMemo, useState } from 'react';
import { useSoundNamesQuery } from '../api/api.ts';

/** The sounds that a script may be tried on, and the one that it is: the newest that was taken in, until one is chosen. */
export function useTrialSound() {
  const [chosen, choose] = useState<string>();
  const { data } = useSoundNamesQuery();
  const sounds = useMemo(() => (data ?? []).filter(({ kind }) => kind !== 'render'), [data]);
  const id = (sounds.find((sound) => sound.id === chosen) ?? sounds.find(({ kind }) => kind === 'source'))?.id;
  return { sounds, id, choose };
}
