/** Runs in a web worker: works out the pictures of stages, some of which are measured by running them. */
import { expose } from 'comlink';
import { pictureOf, type StageDocument, type StagePicture, type Timing } from '@hexenkessel/core';

const worker = {
  picture: (stage: StageDocument, timing: Timing): StagePicture | undefined => pictureOf(stage, timing),
};

export type PictureWorker = typeof worker;
expose(worker);
