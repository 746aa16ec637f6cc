import { createContext, useContext, useEffect, useRef, useState } from 'react';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { MovementTrace } from '@hexenkessel/core/engine';
import { useRendered, useRenderer } from '../cascade/useRenderer.ts';

/** How everything moves over the sound. */
export const TraceContext = createContext<MovementTrace | undefined>(undefined);

export const useTrace = (): MovementTrace | undefined => useContext(TraceContext);

/** Milliseconds of rest before a trace is worked out. */
const REST = 120;

/** The trace of a chain over the sound at hand, brought up to date when it rests. */
export function useMovementTrace(document: ChainDocument): MovementTrace | undefined {
  const [trace, setTrace] = useState<MovementTrace>();
  const renderer = useRenderer();
  const busy = useRendered((state) => state.busy);
  const sourceFrames = useRendered((state) => state.sourceFrames);
  const end = useRendered(({ rows }) => rows.result?.end) ?? sourceFrames;
  const { modulators, routes, lanes, panel, timing, stages } = document;
  const moving = modulators.length > 0 || lanes.length > 0;
  const latest = useRef(document);
  latest.current = document;
  // Not in the effect, which runs with every key that is held down on a setting: React gives up on one that sets state each time.
  if (!moving && trace) setTrace(undefined);
  useEffect(() => {
    if (!moving || busy || sourceFrames === 0) return undefined;
    let left = false;
    const timer = setTimeout(() => {
      void renderer.movementTrace(latest.current, end).then((next) => {
        if (!left) setTrace(next);
      });
    }, REST);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [renderer, moving, modulators, routes, lanes, panel, timing, stages, busy, end, sourceFrames]);
  return trace;
}
