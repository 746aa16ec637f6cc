import { useRef } from 'react';
import { isScaled, toCanonical, type CurvePicture, type Params } from '@hexenkessel/core/stages';
import { useTrace } from '../movement/traceContext.ts';
import { tracedAt } from '../movement/traceReading.ts';
import { usePlayingRow } from '../playback/usePlayback.ts';
import { usePlayPosition } from '../playback/usePlayPosition.ts';

/** A stage that is heard. */
export interface PlayingStage {
  readonly id: string;
  readonly params: Params;
}

interface Props {
  readonly handle: CurvePicture['handles'][number];
  readonly stage: PlayingStage;
  /** Where values stand in the picture. */
  readonly across: (value: number) => number;
  readonly down: (value: number) => number;
}

/** Where a handle is while it plays and something moves it; drawn outside React. */
export function MovingHandle({ handle, stage, across, down }: Props) {
  const trace = useTrace();
  const playing = usePlayingRow() !== undefined;
  const mark = useRef<SVGCircleElement>(null);
  const moves = (key: string | undefined) => key !== undefined && trace?.targets[`${stage.id}.${key}`] !== undefined;
  const valueOf = (key: string | undefined, shown: number, seconds: number): number => {
    const param = key === undefined ? undefined : stage.params[key];
    const place = trace && tracedAt(trace, trace.targets[`${stage.id}.${key ?? ''}`], seconds);
    return param && isScaled(param) && place !== undefined ? toCanonical(param, place) : shown;
  };
  usePlayPosition((seconds) => {
    mark.current?.setAttribute('cx', String(across(valueOf(handle.xParam, handle.x, seconds))));
    mark.current?.setAttribute('cy', String(down(valueOf(handle.yParam, handle.y, seconds))));
  });
  if (!playing || !(moves(handle.xParam) || moves(handle.yParam))) return null;
  return <circle ref={mark} r="4" fill="var(--chakra-colors-verdigris)" data-testid="moving-handle" aria-hidden />;
}
