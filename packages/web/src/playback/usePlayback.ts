import { useCallback, useEffect, useRef, useState } from 'react';
import { tellFailure } from '../app/toaster.tsx';
import type { PlayableClip, RowKey } from '../cascade/renderWorker.ts';
import type { Region } from '../chain/benchSlice.ts';
import { Player } from './player.ts';

export interface Playback {
  /** The row that sounds; undefined when nothing does. */
  readonly playing: RowKey | undefined;
  readonly position: () => number | undefined;
  /** Plays a row, or stops it when it sounds already. */
  readonly toggle: (key: RowKey) => void;
  readonly stop: () => void;
}

/** Plays rows of the Cascade, over the region if there is one. */
export function usePlayback(
  fetchClip: (key: RowKey) => Promise<PlayableClip | undefined>,
  region: Region | null,
  loop: boolean,
): Playback {
  const player = useRef<Player>(undefined);
  const [playing, setPlaying] = useState<RowKey>();

  useEffect(() => {
    const mine = new Player();
    player.current = mine;
    return () => mine.close();
  }, []);

  const stop = useCallback(() => player.current?.stop(), []);
  const start = useCallback(
    async (key: RowKey) => {
      try {
        const clip = await fetchClip(key);
        if (!clip || !player.current) {
          tellFailure('Nothing to play yet', 'The row is still being rendered; try again in a moment.');
          return;
        }
        const whole = {
          start: clip.origin / clip.sampleRate,
          end: (clip.origin + clip.channels[0].length) / clip.sampleRate,
        };
        const stretch = region ?? whole;
        await player.current.play(clip, {
          from: stretch.start,
          until: region?.end,
          loop: loop ? stretch : undefined,
          onEnd: () => setPlaying(undefined),
        });
        setPlaying(key);
      } catch (error) {
        tellFailure('Cannot play', error instanceof Error ? error.message : String(error));
      }
    },
    [fetchClip, region, loop],
  );

  const toggle = useCallback(
    (key: RowKey) => {
      if (playing === key) stop();
      else void start(key);
    },
    [playing, start, stop],
  );
  const position = useCallback(() => player.current?.position, []);

  // A changed region or loop is heard at once.
  const restart = useRef(start);
  restart.current = start;
  const current = useRef(playing);
  current.current = playing;
  useEffect(() => {
    if (current.current) void restart.current(current.current);
  }, [region, loop]);

  return { playing, position, toggle, stop };
}
