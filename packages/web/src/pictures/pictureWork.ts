/** Done in a thread: works out the pictures of stages, some of which are measured by running them. */
import type { Timing } from '@hexenkessel/core/model';
import { BUILT_INS, pictureOf, type Script, type StagePicture } from '@hexenkessel/core/stages';
import type { StageDocument } from '@hexenkessel/core/chain';

export const pictureWork = {
  picture: (
    stage: StageDocument,
    timing: Timing,
    scripts: readonly Script[],
    seconds?: number,
  ): StagePicture | undefined => pictureOf(BUILT_INS.for({ scripts }), stage, timing, seconds),
};
