import { wrap, type Remote } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { hasPicture, type StageDocument, type StagePicture, type Timing } from '@hexenkessel/core';
import type { PictureWorker } from './pictureWorker.ts';

let remote: Remote<PictureWorker> | undefined;

/** One thread draws for the whole page; it is made when the first picture is asked for. */
function pictures(): Remote<PictureWorker> {
  remote ??= wrap<PictureWorker>(new Worker(new URL('./pictureWorker.ts', import.meta.url), { type: 'module' }));
  return remote;
}

/** The picture of a stage as it is set; the last one as long as the next is worked out. */
export function usePicture(stage: StageDocument, timing: Timing): StagePicture | undefined {
  const [shown, setShown] = useState<{ readonly kind: string; readonly picture: StagePicture | undefined }>();
  const key = JSON.stringify([stage.kind, stage.settings, stage.branches, timing]);
  const latest = useRef({ stage, timing });
  latest.current = { stage, timing };
  useEffect(() => {
    const { stage: asked, timing: under } = latest.current;
    if (!hasPicture(asked.kind)) return undefined;
    let left = false;
    pictures()
      .picture(asked, under)
      .then((picture) => {
        if (!left) setShown({ kind: asked.kind, picture });
      })
      .catch(() => undefined); // a picture that cannot be drawn is left out; the rows say what is set
    return () => {
      left = true;
    };
  }, [key]);
  return shown?.kind === stage.kind ? shown.picture : undefined;
}
