/** Runs in a web worker: works out the pictures of stages, some of which are measured by running them. */
import { expose } from 'comlink';
import {
  BUILT_INS,
  pictureOf,
  type Script,
  type StageDocument,
  type StagePicture,
  type Timing,
} from '@hexenkessel/core';

const worker = {
  picture: (stage: StageDocument, timing: Timing, scripts: readonly Script[]): StagePicture | undefined =>
    pictureOf(BUILT_INS.for({ scripts }), stage, timing),
};

export type PictureWorker = typeof worker;
expose(worker);
