import { useEffect, useRef, useState } from 'react';
import { hasClipPicture, type ClipPicture, type StageDocument, type Timing } from '@hexenkessel/core';
import type { CascadeSource, CascadeState } from '../cascade/useCascade.ts';

/** What a stage finds in the clip at hand, as soon as what goes into it is rendered; the last one until then. */
export function useClipPicture(
  { stagePicture, busy }: CascadeState & CascadeSource,
  stage: StageDocument,
  timing: Timing,
): ClipPicture | undefined {
  const [shown, setShown] = useState<{ readonly id: string; readonly picture: ClipPicture | undefined }>();
  const key = JSON.stringify([stage, timing]);
  const latest = useRef({ stage, timing });
  latest.current = { stage, timing };
  useEffect(() => {
    const { stage: asked, timing: under } = latest.current;
    if (busy || !asked.on || !hasClipPicture(asked.kind)) return undefined;
    let left = false;
    stagePicture(asked, under)
      .then((picture) => {
        if (!left) setShown({ id: asked.id, picture });
      })
      .catch(() => undefined); // a picture that cannot be drawn is left out; the row says what is wrong
    return () => {
      left = true;
    };
  }, [key, busy, stagePicture]);
  return shown?.id === stage.id ? shown.picture : undefined;
}
