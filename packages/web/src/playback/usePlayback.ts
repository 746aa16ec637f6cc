import { createContext, useContext, useEffect, useState } from 'react';
import { tellFailure } from '../app/toaster.tsx';
import type { ChainRenderer } from '../cascade/chainRenderer.ts';
import type { RowKey } from '../cascade/renderReport.ts';
import { useSubject } from '../parts/useSubject.ts';
import { LivePlayer } from './livePlayer.ts';
import { Playback } from './playback.ts';
import { Preparing } from './preparing.ts';

const preparing = new Preparing();

/** Plays what a renderer renders, as long as the view lives. */
export function useNewPlayback(renderer: ChainRenderer | undefined): Playback | undefined {
  const [playback, setPlayback] = useState<Playback>();
  useEffect(() => {
    if (!renderer) return undefined;
    const fresh = new Playback(renderer, {
      open: (rate, latency) => LivePlayer.open(rate, latency),
      prepare: (plan, rate, wanted) => preparing.prepare(plan, rate, wanted),
      tellFailure,
    });
    setPlayback(fresh);
    return () => fresh.close();
  }, [renderer]);
  return playback;
}

export const PlaybackContext = createContext<Playback | undefined>(undefined);

/** What plays in the view around. */
export function usePlayback(): Playback {
  const playback = useContext(PlaybackContext);
  if (!playback) throw new Error('There is nothing around that plays.');
  return playback;
}

/** The row that sounds, or is about to; undefined when nothing does. */
export function usePlayingRow(): RowKey | undefined {
  return useSubject(usePlayback(), ({ row }) => row);
}
