import { lastClipStage, type ChainDocument } from '@hexenkessel/core';
import type { RowKey } from '../cascade/renderWorker.ts';

/** What of a chain has to be rendered before a row can be heard, and what then runs live. */
export interface HeardPart {
  /** The row whose sound is read. */
  readonly prefix: RowKey;
  /** The chain with nothing but the live stages behind it, up to the row. */
  readonly chain: ChainDocument;
}

export function heardPart(document: ChainDocument, row: RowKey): HeardPart {
  const upTo =
    row === 'source'
      ? 0
      : row === 'result'
        ? document.stages.length
        : document.stages.findIndex(({ id }) => `stage:${id}` === row) + 1;
  const part = { ...document, stages: document.stages.slice(0, upTo) };
  const last = lastClipStage(part);
  return {
    prefix: last < 0 ? 'source' : `stage:${part.stages[last].id}`,
    // Only what is heard: a new name is no new plan.
    chain: { ...part, name: '', about: document.about, stages: part.stages.slice(last + 1) },
  };
}
