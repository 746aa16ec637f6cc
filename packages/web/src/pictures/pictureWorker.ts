/** Runs in a web worker: works out the pictures of stages, some of which are measured by running them. */
import { expose } from 'comlink';
import type { Timing } from '@hexenkessel/core/model';
import { BUILT_INS, pictureOf, type Script, type StagePicture } from '@hexenkessel/core/stages';
import type { StageDocument } from '@hexenkessel/core/chain';

const worker = {
  picture: (
    stage: StageDocument,
    timing: Timing,
    scripts: readonly Script[],
    seconds?: number,
  ): StagePicture | undefined => pictureOf(BUILT_INS.for({ scripts }), stage, timing, seconds),
};

export type PictureWorker = typeof worker;
expose(worker);
