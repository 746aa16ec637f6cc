import { BUILT_INS } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { lastClipStage } from '@hexenkessel/core/engine';
import type { RowKey } from '../cascade/renderReport.ts';

/** What of a chain has to be rendered before a row can be heard, and what then runs live. */
export interface HeardPart {
  /** The row whose sound is read. */
  readonly prefix: RowKey;
  /** The chain with nothing but the live stages behind it, up to the row. */
  readonly chain: ChainDocument;
}

/** The chain as far as a row. What is not the whole of it lies where it falls, with the channels it has. */
export function chainUpTo(document: ChainDocument, row: RowKey): ChainDocument {
  if (row === 'result') return document;
  const upTo = row === 'source' ? 0 : document.stages.findIndex(({ id }) => `stage:${id}` === row) + 1;
  const render = { ...document.render, anchor: 'source', channels: 'as they come' } as const;
  return { ...document, stages: document.stages.slice(0, upTo), render };
}

export function heardPart(document: ChainDocument, row: RowKey): HeardPart {
  const part = chainUpTo(document, row);
  const last = lastClipStage(BUILT_INS, part);
  return {
    prefix: last < 0 ? 'source' : `stage:${part.stages[last].id}`,
    chain: { ...part, stages: part.stages.slice(last + 1) },
  };
}

/** Says all of a chain that can be heard, to be compared with what was measured; names and notes change nothing. */
export function heardText(document: ChainDocument): string {
  return JSON.stringify({ ...document, name: '', about: {}, render: { ...document.render, name: '' } });
}
