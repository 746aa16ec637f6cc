import { useEffect, useRef } from 'react';
import { usePlayback, usePlayingRow } from './usePlayback.ts';

/** Calls `draw` with the position in seconds on every frame while something plays; outside React's rendering. */
export function usePlayPosition(draw: (seconds: number) => void): void {
  const playback = usePlayback();
  const playing = usePlayingRow() !== undefined;
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  });
  useEffect(() => {
    if (!playing) return undefined;
    let frame = 0;
    const step = () => {
      const { position } = playback;
      if (position !== undefined) latest.current(position);
      frame = requestAnimationFrame(step);
    };
    step();
    return () => cancelAnimationFrame(frame);
  }, [playing, playback]);
}
