import { useCallback } from 'react';
import type { Sound } from '@hexenkessel/core/protocol';
import { problemOf, useTakeSoundMutation } from '../api/api.ts';
import { tellFailure, tellWarning } from '../app/toaster.tsx';

/** Which channels of a file are taken, and whether it gets another sample rate. */
export interface TakingHow {
  readonly channels?: string;
  readonly rate?: number;
}

/** Takes dropped files into the store one after another; says of each that is refused why. */
export function useTakeSound(): {
  take: (files: readonly File[], how?: TakingHow) => Promise<Sound[]>;
  busy: boolean;
} {
  const [takeSound, { isLoading }] = useTakeSoundMutation();
  const take = useCallback(
    async (files: readonly File[], how: TakingHow = {}) => {
      const taken: Sound[] = [];
      for (const file of files) {
        const result = await takeSound({ file, ...how });
        if ('data' in result && result.data) {
          const { warning, ...sound } = result.data;
          taken.push(sound);
          if (warning !== undefined) tellWarning(`${file.name} was imported`, warning);
        } else tellFailure(`${file.name} was not imported`, problemOf(result.error).detail);
      }
      return taken;
    },
    [takeSound],
  );
  return { take, busy: isLoading };
}
