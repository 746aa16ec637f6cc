/** Renders a chain on a stretch of a sound, and puts what comes out back into its place in a copy of the sound. */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { allStages } from '../../chain/branches.ts';
import type { Beyond, ChainDocument, RegionTime } from '../../chain/schema.ts';
import { InputError } from '../../model/errors.ts';
import { showSeconds } from '../../timing/display.ts';
import { cropClip, frameCount, type Clip, type Span } from '../../model/clip.ts';
import { finishClip } from './finish.ts';
import { renderChain, type RenderProcess, type RenderRequest } from './renderer.ts';
import { softenInput, spliced, type Splice } from './splice.ts';

export interface RegionRender {
  /** Frames of the sound, from its first. */
  readonly region: Span;
  readonly beyond: Beyond;
  /** What lanes, modulators and stages that wait count from; from the region's first frame when left out. */
  readonly time?: RegionTime | undefined;
  /** Present: a copy of the whole sound comes out, with the render in its place. */
  readonly splice?: Splice | undefined;
}

/** What `auto` means for a chain. */
export function beyondOf(catalogue: Catalogue, chain: ChainDocument, beyond: Beyond): 'sound' | 'nothing' {
  if (beyond !== 'auto') return beyond;
  return allStages(chain.stages).some(({ stage }) => stage.on && catalogue.for(chain).of(stage).hearsBeyond)
    ? 'sound'
    : 'nothing';
}

/** Most of the sound behind a region that a chain is given, in lengths of the region: what sixteen times the speed needs. */
const MOST_BEYOND = 16;

/**
 * Renders a region. The chain takes its first frame for the source's first, so that a preset does the same wherever it is
 * used; in the time of the sound, what moves does what it does there when all of the sound is played. Where it hears the sound behind the region, the render ends with the region, to the frame; else its tail rings as
 * the chain says. Without a splice, the clip's origin tells where in the sound it lies. InputError when the region does not
 * lie in the sound.
 */
export function* renderRegion(catalogue: Catalogue, request: RenderRequest & RegionRender): RenderProcess {
  const { source, region, splice, chain } = request;
  refuseRegion(region, frameCount(source), source.sampleRate);
  const length = region.end - region.start;
  const hears = beyondOf(catalogue, chain, request.beyond);
  const last = hears === 'sound' ? Math.min(frameCount(source), region.end + MOST_BEYOND * length) : region.end;
  const part: Clip = { ...cropClip(source, region.start, last), origin: 0 };
  // Where the chain goes on to hear the sound, and where what it adds is cut off, its input need not end softly.
  const softened =
    splice?.tail === 'overlap' && hears === 'nothing'
      ? softenInput(catalogue, part, { chain, source, region, fade: splice.fade })
      : { clip: part, fadedOut: 0 };
  const rendered = yield* renderChain(catalogue, {
    ...request,
    // It is brought to its level when it is cut to its place.
    chain: { ...chain, render: { ...chain.render, level: { mode: 'none' } } },
    source: softened.clip,
    span: { start: 0, end: length },
    timeline:
      request.time === 'sound' ? { place: region.start, span: { start: 0, end: frameCount(source) } } : undefined,
    sourceKey: `${request.sourceKey ?? ''} ${region.start}–${region.end} ${hears} ${softened.clip === part ? '' : splice!.fade}`,
  });
  const ended = hears === 'sound' ? cropClip(rendered, Math.min(0, rendered.origin), length) : rendered;
  const finished = finishClip(ended, chain.render);
  const placed: Clip = { ...finished, origin: finished.origin + region.start };
  return splice ? spliced(source, placed, region, { ...splice, fadedOut: softened.fadedOut }) : placed;
}

/** InputError when a region is empty or reaches out of the sound. */
export function refuseRegion({ start, end }: Span, frames: number, sampleRate: number): void {
  const seconds = (frame: number) => showSeconds(frame / sampleRate);
  if (end <= start)
    throw new InputError(
      `The region from ${seconds(start)} to ${seconds(end)} is empty; its end must be after its start.`,
    );
  if (start < 0 || end > frames)
    throw new InputError(
      `The region from ${seconds(start)} to ${seconds(end)} exceeds the sound; allowed is 0 s to ${seconds(frames)}.`,
    );
}
