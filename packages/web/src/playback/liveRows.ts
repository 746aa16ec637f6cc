import type { ChainDocument, StageDocument } from '@hexenkessel/core';
import { BUILT_INS, allStages, lastClipStage } from '@hexenkessel/core';
import type { RowKey } from '../cascade/renderReport.ts';
import { heardPart } from './heardPart.ts';

/** Where the meters of a stage stand on the board: stages that are on and live, those inside others counted in their place. */
export function boardPlaces(document: ChainDocument, row: RowKey): Map<string, number> {
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
}

/** Ids of the stages that run live, those inside others too; what is not among them is rendered before. */
export function liveStageIds(document: ChainDocument): ReadonlySet<string> {
  const live = document.stages.slice(lastClipStage(BUILT_INS, document) + 1);
  return new Set(allStages(live).map(({ stage }) => stage.id));
}
