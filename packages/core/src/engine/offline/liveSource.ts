import type { Catalogue } from '../../catalogue/catalogue.ts';
import type { ChainDocument, StageDocument } from '../../chain/schema.ts';
import { createRandom } from '../../dsp/random.ts';
import { ChunkedSource } from './chunkedSource.ts';
import type { ClipStage } from '../../stages/contract.ts';
import { frameCount, type Clip } from '../../model/clip.ts';
import { refuseTooLong } from './overhang.ts';
import { lastClipStage, planStages } from '../plan/plan.ts';
import type { FrameSource } from '../../model/frameSource.ts';

/**
 * True when a chain can be rendered in one pass: its stages are live, but for a first one that can give its result in
 * pieces, and it need not be heard to its end before it is known where it is placed.
 */
export function canStream(catalogue: Catalogue, chain: ChainDocument): boolean {
  if (chain.render.anchor !== 'source') return false;
  const last = lastClipStage(catalogue, chain);
  return (
    last < 0 || (chain.stages.findIndex(({ on }) => on) === last && isPieced(catalogue.for(chain), chain.stages[last]))
  );
}

function isPieced(catalogue: Catalogue, document: StageDocument): boolean {
  const { mix, level } = document;
  const stage = catalogue.of(document);
  return stage.runs === 'offline' && stage.stream !== undefined && mix === 1 && level === 0;
}

/** A chain and the sound that its live stages get: where its first stage gives its result in pieces, that is the sound. */
export async function liveSource(
  catalogue: Catalogue,
  chain: ChainDocument,
  source: FrameSource & { readClip(): Promise<Clip> },
): Promise<{ readonly chain: ChainDocument; readonly source: FrameSource }> {
  const last = lastClipStage(catalogue, chain);
  if (last < 0) return { chain, source };
  const clip = await source.readClip();
  const [planned] = planStages(catalogue, { ...chain, stages: [chain.stages[last]] }, clip.sampleRate);
  const stage = catalogue.of(planned) as ClipStage;
  const { frames } = stage.estimate?.(frameCount(clip), planned.values, clip.sampleRate) ?? {
    frames: frameCount(clip),
  };
  refuseTooLong(frames, clip.channels.length, stage.title);
  const pieced = stage.stream!(clip, planned.values, {
    span: { start: 0, end: frameCount(clip) },
    random: createRandom(planned.seed),
    branches: [],
    settings: [],
  });
  const rest = { ...chain, stages: chain.stages.slice(last + 1) };
  return { chain: rest, source: new ChunkedSource(pieced, clip.sampleRate, clip.channels.length) };
}
