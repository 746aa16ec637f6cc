import type { Remote } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { Timing } from '@hexenkessel/core/model';
import { BUILT_INS, type Script, type StagePicture } from '@hexenkessel/core/stages';
import type { StageDocument } from '@hexenkessel/core/chain';
import { openThread } from '../thread/openThread.ts';
import type { Work } from '../thread/threadScript.ts';

const NO_SCRIPTS: readonly Script[] = [];

let remote: Remote<Work> | undefined;

/** One thread draws for the whole page; it is made when the first picture is asked for. */
export function pictures(): Remote<Work> {
  remote ??= openThread().work;
  return remote;
}

/** The picture of a stage as it is set; the last one as long as the next is worked out. */
export function usePicture(
  stage: StageDocument,
  timing: Timing,
  scripts: readonly Script[] = NO_SCRIPTS,
): StagePicture | undefined {
  const [shown, setShown] = useState<{ readonly kind: string; readonly picture: StagePicture | undefined }>();
  const { kind, settings, branches } = stage;
  const latest = useRef({ stage, timing, scripts });
  latest.current = { stage, timing, scripts };
  useEffect(() => {
    const { stage: asked, timing: under, scripts: known } = latest.current;
    const definition = BUILT_INS.for({ scripts: known }).of(asked);
    if (definition.runs === 'offline' || !definition.picture) return undefined;
    let left = false;
    pictures()
      .picture(asked, under, known)
      .then((picture) => {
        if (!left) setShown({ kind: asked.kind, picture });
      })
      .catch(() => undefined); // a picture that cannot be drawn is left out; the rows say what is set
    return () => {
      left = true;
    };
  }, [kind, settings, branches, timing, scripts]);
  return shown?.kind === stage.kind ? shown.picture : undefined;
}
