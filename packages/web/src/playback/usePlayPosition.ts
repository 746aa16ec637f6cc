import { useEffect, useRef } from 'react';
import type { Playback } from './useLive.ts';

/** Calls `draw` with the position in seconds on every frame while something plays; outside React's rendering. */
export function usePlayPosition({ playing, position }: Playback, draw: (seconds: number) => void): void {
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  });
  useEffect(() => {
    if (!playing) return undefined;
    let frame = 0;
    const step = () => {
      const seconds = position();
      if (seconds !== undefined) latest.current(seconds);
      frame = requestAnimationFrame(step);
    };
    step();
    return () => cancelAnimationFrame(frame);
  }, [playing, position]);
}
