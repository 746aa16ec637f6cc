import { useCallback, useEffect, useState } from 'react';
import { useAppDispatch, useAppStore } from '../app/store.ts';
import { mark, type Region } from '../chain/playbackSlice.ts';
import { shownChain, useShownSound } from '../chain/shownChain.ts';
import { beatSeconds } from '@hexenkessel/core/model';
import { nearest, zeroCrossing } from './snapping.ts';
import { useRendered, useRenderer } from './useRenderer.ts';

/** Seconds that an edge may be moved to a zero crossing. */
const REACH = 0.005;
const SAME = 1e-6; // seconds

/** Where notes begin in the sound at hand, as soon as that is `wanted` and found. */
export function useOnsets(wanted: boolean): readonly number[] {
  const renderer = useRenderer();
  const clipId = useRendered(({ rows }) => rows.source?.clipId);
  const [onsets, setOnsets] = useState<readonly number[]>([]);
  useEffect(() => {
    setOnsets([]);
    if (!wanted || clipId === undefined) return undefined;
    let left = false;
    void renderer.soundOnsets().then((found) => {
      if (!left) setOnsets(found);
    });
    return () => void (left = true);
  }, [renderer, wanted, clipId]);
  return onsets;
}

/** Moves the edges of a region that lie on no beat and no transient to where the sound crosses zero. */
export function useRestAtZero(onsets: readonly number[]): (region: Region) => void {
  const renderer = useRenderer();
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const sound = useShownSound();
  return useCallback(
    (region) => {
      void renderer.fetchClip('source').then((clip) => {
        if (!clip) return;
        const beat = beatSeconds(shownChain(store.getState(), sound).timing);
        const moved = (seconds: number) => {
          const onBeat = Math.abs(Math.round(seconds / beat) * beat - seconds) < SAME;
          if (onBeat || nearest(onsets, seconds, SAME) !== undefined) return seconds;
          const reach = Math.round(REACH * clip.sampleRate);
          return zeroCrossing(clip.channels, Math.round(seconds * clip.sampleRate), reach) / clip.sampleRate;
        };
        const next = { start: moved(region.start), end: moved(region.end) };
        if (next.end > next.start) dispatch(mark(sound.id, { region: next }));
      });
    },
    [renderer, dispatch, store, sound, onsets],
  );
}
