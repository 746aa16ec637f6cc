import { useEffect, useRef, useState } from 'react';
import type { Timing } from '@hexenkessel/core/model';
import { BUILT_INS, isScaled, toCanonical, type Script, type StagePicture } from '@hexenkessel/core/stages';
import type { StageDocument } from '@hexenkessel/core/chain';
import { useTrace } from '../movement/traceContext.ts';
import { tracedAt } from '../movement/traceReading.ts';
import { usePlayingRow } from '../playback/usePlayback.ts';
import { usePlayPosition } from '../playback/usePlayPosition.ts';
import { StagePictureView } from './StagePictureView.tsx';
import { pictures } from './usePicture.ts';

interface Props extends React.ComponentProps<typeof StagePictureView> {
  readonly stage: StageDocument;
  readonly timing: Timing;
  readonly scripts: readonly Script[];
}

/** Milliseconds between two pictures of what moves. */
const PACE = 80;

/** The picture of a stage; while it plays and moves, as it is at that moment, over how it is set. */
export function MovingPicture({ stage, timing, scripts, picture, ...view }: Props) {
  const trace = useTrace();
  const playing = usePlayingRow() !== undefined;
  const [now, setNow] = useState<StagePicture>();
  const busy = useRef(false);
  const drawnAt = useRef(0);
  const definition = BUILT_INS.for({ scripts }).of(stage);
  const moved = Object.entries(definition.params).filter(
    ([key, param]) => isScaled(param) && trace?.targets[`${stage.id}.${key}`] !== undefined,
  );
  const moves = moved.length > 0 || (definition.runs === 'live' && definition.pictureMoves === true);
  useEffect(() => {
    if (!playing || !moves) setNow(undefined);
  }, [playing, moves]);
  usePlayPosition((seconds) => {
    if (!moves || !stage.on || busy.current || performance.now() - drawnAt.current < PACE) return;
    busy.current = true;
    drawnAt.current = performance.now();
    const settings = { ...stage.settings };
    for (const [key, param] of moved) {
      const place = trace && tracedAt(trace, trace.targets[`${stage.id}.${key}`], seconds);
      if (isScaled(param) && place !== undefined) settings[key] = toCanonical(param, place);
    }
    pictures()
      .picture({ ...stage, settings }, timing, scripts, seconds)
      .then(setNow)
      .catch(() => undefined) // what cannot be drawn is left out
      .finally(() => (busy.current = false));
  });
  return <StagePictureView picture={playing && now ? over(picture, now) : picture} {...view} />;
}

/** What is now, before what is set; what can be dragged stands where it is set. */
function over(set: StagePicture, now: StagePicture): StagePicture {
  if (set.type !== 'curves' || now.type !== 'curves') return now.type === 'repeats' ? now : set;
  const behind = set.curves.map((curve) => ({ ...curve, label: `set: ${curve.label}`, faint: true }));
  return { ...set, title: now.title, curves: [...now.curves, ...behind] };
}
