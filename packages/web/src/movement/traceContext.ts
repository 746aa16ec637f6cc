import { createContext, useContext, useEffect, useRef, useState } from 'react';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { MovementTrace } from '@hexenkessel/core/engine';
import type { CascadeSource, CascadeState } from '../cascade/useCascade.ts';
import type { Playback } from '../playback/useLive.ts';

/** How everything moves over the sound, and where it plays. */
export interface MovementView {
  readonly trace: MovementTrace | undefined;
  readonly playback: Playback | undefined;
}

export const MovementContext = createContext<MovementView>({ trace: undefined, playback: undefined });

export const useMovementView = (): MovementView => useContext(MovementContext);

/** Milliseconds of rest before a trace is worked out. */
const REST = 120;

/** The trace of a chain over the sound at hand, brought up to date when it rests. */
export function useMovementTrace(cascade: CascadeState & CascadeSource, document: ChainDocument) {
  const [trace, setTrace] = useState<MovementTrace>();
  const { movementTrace, busy, sampleRate, sourceFrames } = cascade;
  const end = cascade.rows.result?.end ?? sourceFrames;
  const moving = document.modulators.length > 0 || document.lanes.length > 0;
  const text = moving
    ? JSON.stringify([
        document.modulators,
        document.routes,
        document.lanes,
        document.panel,
        document.timing,
        document.stages,
      ])
    : '';
  const latest = useRef(document);
  latest.current = document;
  useEffect(() => {
    if (text === '') {
      setTrace(undefined);
      return undefined;
    }
    if (busy || sourceFrames === 0) return undefined;
    let left = false;
    const timer = setTimeout(() => {
      void movementTrace(latest.current, end).then((next) => {
        if (!left) setTrace(next);
      });
    }, REST);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [text, busy, movementTrace, end, sampleRate, sourceFrames]);
  return trace;
}
