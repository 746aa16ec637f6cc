import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { ChainDocument } from '../../chain/schema.ts';
import { deriveSeed } from '../../dsp/random.ts';
import { HEAD_ID, type PlannedHead } from '../../heads/contract.ts';
import type { Clip } from '../../model/clip.ts';
import { beatSeconds } from '../../timing/tempo.ts';
import { resolveAll } from './resolve.ts';
import { NO_SOUNDS } from './soundBank.ts';

/** What a chain begins with, every value in its canonical unit; `clip` is for a head that takes one. */
export function planHead(catalogue: Catalogue, chain: ChainDocument, sampleRate: number, clip?: Clip): PlannedHead {
  const { head, timing, render, notes } = chain;
  const { params, takes } = catalogue.headOf(head);
  const { values } = resolveAll(params, head.settings, timing, sampleRate, NO_SOUNDS);
  const beat = beatSeconds(timing);
  return {
    kind: head.kind,
    values,
    sampleRate,
    seed: deriveSeed(render.seed, HEAD_ID),
    clip: takes === 'clip' ? clip : undefined,
    notes: takes === 'notes' ? notes.map((note) => ({ ...note, at: note.at * beat, length: note.length * beat })) : [],
  };
}
