import { useEffect, useRef } from 'react';
import type { LivePlayer } from './livePlayer.ts';
import { usePlayback, usePlayingRow } from './usePlayback.ts';

/** Calls `draw` with what the audio thread shows, on every frame while something plays, and once after it has stopped. */
export function useBoard(draw: (board: Float64Array, player: LivePlayer) => void): void {
  const playback = usePlayback();
  const playing = usePlayingRow() !== undefined;
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  });
  useEffect(() => {
    let frame = 0;
    const step = () => {
      const { player } = playback;
      if (player) latest.current(player.board, player);
      if (playing) frame = requestAnimationFrame(step);
    };
    step();
    return () => cancelAnimationFrame(frame);
  }, [playing, playback]);
}
