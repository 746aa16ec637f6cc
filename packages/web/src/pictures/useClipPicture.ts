import { useEffect, useRef, useState } from 'react';
import type { Timing } from '@hexenkessel/core/model';
import { BUILT_INS, type ClipPicture, type Script } from '@hexenkessel/core/stages';
import type { StageDocument } from '@hexenkessel/core/chain';
import { useRendered, useRenderer } from '../cascade/useRenderer.ts';

/** What a stage finds in the clip at hand, as soon as what goes into it is rendered; the last one until then. */
export function useClipPicture(
  scripts: readonly Script[],
  stage: StageDocument,
  timing: Timing,
): ClipPicture | undefined {
  const [shown, setShown] = useState<{ readonly id: string; readonly picture: ClipPicture | undefined }>();
  const renderer = useRenderer();
  const busy = useRendered((state) => state.busy);
  const latest = useRef({ stage, timing, scripts });
  latest.current = { stage, timing, scripts };
  useEffect(() => {
    const { stage: asked, timing: under, scripts: known } = latest.current;
    const definition = BUILT_INS.for({ scripts: known }).of(asked);
    if (busy || !asked.on || definition.runs === 'live' || !definition.clipPicture) return undefined;
    let left = false;
    renderer
      .stagePicture(asked, under, known)
      .then((picture) => {
        if (!left) setShown({ id: asked.id, picture });
      })
      .catch(() => undefined); // a picture that cannot be drawn is left out; the row says what is wrong
    return () => {
      left = true;
    };
  }, [stage, timing, busy, renderer]);
  return shown?.id === stage.id ? shown.picture : undefined;
}
