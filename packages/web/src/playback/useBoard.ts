import { useEffect, useRef } from 'react';
import type { LivePlayer } from './livePlayer.ts';
import type { Playback } from './useLive.ts';

/** Calls `draw` with what the audio thread shows, on every frame while something plays, and once after it has stopped. */
export function useBoard({ playing, player }: Playback, draw: (board: Float64Array, player: LivePlayer) => void): void {
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  });
  useEffect(() => {
    let frame = 0;
    const step = () => {
      const live = player();
      if (live) latest.current(live.board, live);
      if (playing) frame = requestAnimationFrame(step);
    };
    step();
    return () => cancelAnimationFrame(frame);
  }, [playing, player]);
}
