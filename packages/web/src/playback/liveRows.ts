import { remembered } from '@hexenkessel/core/model';
import type { ChainDocument, StageDocument } from '@hexenkessel/core/chain';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { allStages } from '@hexenkessel/core/chain';
import { lastClipStage } from '@hexenkessel/core/engine';
import type { RowKey } from '../cascade/renderReport.ts';
import { heardPart } from './heardPart.ts';

/** Where the meters of a stage stand on the board: stages that are on and live, those inside others counted in their place. */
export const boardPlaces = remembered((document: ChainDocument, row: RowKey): ReadonlyMap<string, number> => {
  const places = new Map<string, number>();
  const walk = (stages: readonly StageDocument[]) => {
    for (const stage of stages) {
      if (!stage.on) continue;
      places.set(stage.id, places.size);
      for (const branch of stage.branches ?? []) walk(branch.stages);
    }
  };
  walk(heardPart(document, row).chain.stages);
  return places;
});

/** Ids of the stages that run live, those inside others too; what is not among them is rendered before. */
export const liveStageIds = remembered((document: ChainDocument): ReadonlySet<string> => {
  const live = document.stages.slice(lastClipStage(BUILT_INS, document) + 1);
  return new Set(allStages(live).map(({ stage }) => stage.id));
});
