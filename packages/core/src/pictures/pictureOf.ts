/** The picture of a stage as it is set. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import { allStages } from '../chain/branches.ts';
import type { StageDocument } from '../chain/schema.ts';
import type { StagePicture } from '../model/picture.ts';
import { resolveSetting, type Params } from '../params/params.ts';
import type { ResolvedValues } from '../stages/contract.ts';
import { PICTURE_RATE } from '../stages/drawing/axis.ts';
import type { Timing } from '../timing/tempo.ts';

/** The values of a stage in their canonical units. */
export function resolvedValues(
  catalogue: Catalogue,
  stage: StageDocument,
  timing: Timing,
  sampleRate = PICTURE_RATE,
): ResolvedValues<Params> {
  const { params } = catalogue.of(stage);
  return Object.fromEntries(
    Object.entries(params).map(([key, param]) => [key, resolveSetting(param, stage.settings[key], timing, sampleRate)]),
  );
}

/** Undefined when its kind has none. `seconds`: the moment that is drawn of what moves by itself. */
export function pictureOf(
  catalogue: Catalogue,
  stage: StageDocument,
  timing: Timing,
  seconds?: number,
): StagePicture | undefined {
  const definition = catalogue.of(stage);
  if (definition.runs === 'offline' || !definition.picture) return undefined;
  const inside = (stage.branches ?? []).flatMap((branch) => allStages(branch.stages).map((placed) => placed.stage));
  const shiftInside = inside
    .filter(({ on }) => on)
    .reduce((sum, held) => sum + (catalogue.of(held).shiftOf?.(resolvedValues(catalogue, held, timing)) ?? 0), 0);
  const values = resolvedValues(catalogue, stage, timing);
  return definition.picture({ stage: definition, values, timing, shiftInside, seconds });
}
