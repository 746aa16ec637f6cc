/** Renders a chain on a stretch of a sound, and puts what comes out back into its place in a copy of the sound. */
import type { Beyond, ChainDocument, RegionTime, SpliceTail } from '../chain/schema.ts';
import { fadeGain } from '../dsp/fadeCurve.ts';
import { InputError } from '../errors.ts';
import { showSeconds } from '../timing/display.ts';
import { clipEnd, cropClip, frameCount, type Clip, type Span } from './clip.ts';
import { finishClip } from './finish.ts';
import { renderChain, type RenderProcess, type RenderRequest } from './offlineRenderer.ts';
import { allStages } from '../chain/branches.ts';

export interface Splice {
  /** Frames over which the copy goes over into the render and back, inside the region. */
  readonly fade: number;
  /** Whether what the render adds around the region sounds over the copy, or ends with the region. */
  readonly tail: SpliceTail;
}

export interface RegionRender {
  /** Frames of the sound, from its first. */
  readonly region: Span;
  readonly beyond: Beyond;
  /** What lanes, modulators and stages that wait count from; from the region's first frame when left out. */
  readonly time?: RegionTime | undefined;
  /** Present: a copy of the whole sound comes out, with the render in its place. */
  readonly splice?: Splice | undefined;
}

/** Stages that play their sound at another speed and so may need more of it than the region is long. */
const HUNGRY = new Set(['bend', 'speed', 'tapeStop', 'halfTime']);

/** What `auto` means for a chain. */
export function beyondOf(chain: ChainDocument, beyond: Beyond): 'sound' | 'nothing' {
  if (beyond !== 'auto') return beyond;
  return allStages(chain.stages).some(({ stage }) => stage.on && HUNGRY.has(stage.kind)) ? 'sound' : 'nothing';
}

/** Most of the sound behind a region that a chain is given, in lengths of the region: what sixteen times the speed needs. */
const MOST_BEYOND = 16;

/**
 * Renders a region. The chain takes its first frame for the source's first, so that a preset does the same wherever it is
 * used; in the time of the sound, what moves does what it does there when all of the sound is played. Where it hears the sound behind the region, the render ends with the region, to the frame; else its tail rings as
 * the chain says. Without a splice, the clip's origin tells where in the sound it lies. InputError when the region does not
 * lie in the sound.
 */
export function* renderRegion(request: RenderRequest & RegionRender): RenderProcess {
  const { source, region, splice, chain } = request;
  refuseRegion(region, frameCount(source), source.sampleRate);
  const length = region.end - region.start;
  const hears = beyondOf(chain, request.beyond);
  const last = hears === 'sound' ? Math.min(frameCount(source), region.end + MOST_BEYOND * length) : region.end;
  const part: Clip = { ...cropClip(source, region.start, last), origin: 0 };
  const rendered = yield* renderChain({
    ...request,
    // It is brought to its level when it is cut to its place.
    chain: { ...chain, render: { ...chain.render, level: { mode: 'none' } } },
    source: part,
    span: { start: 0, end: length },
    timeline:
      request.time === 'sound' ? { place: region.start, span: { start: 0, end: frameCount(source) } } : undefined,
    sourceKey: `${request.sourceKey ?? ''} ${region.start}–${region.end} ${hears}`,
  });
  const ended = hears === 'sound' ? cropClip(rendered, Math.min(0, rendered.origin), length) : rendered;
  const finished = finishClip(ended, chain.render);
  const placed: Clip = { ...finished, origin: finished.origin + region.start };
  return splice ? spliced(source, placed, region, splice) : placed;
}

/** InputError when a region is empty or reaches out of the sound. */
export function refuseRegion({ start, end }: Span, frames: number, sampleRate: number): void {
  const seconds = (frame: number) => showSeconds(frame / sampleRate);
  if (end <= start)
    throw new InputError(
      `The region from ${seconds(start)} to ${seconds(end)} has no length; its end has to lie behind its start.`,
    );
  if (start < 0 || end > frames)
    throw new InputError(
      `The region from ${seconds(start)} to ${seconds(end)} reaches out of the sound; allowed is 0 s to ${seconds(frames)}.`,
    );
}

/**
 * A copy of a sound with a render in place of a region. Fades lie inside the region: outside it every sample is the
 * original's, but for the overhang that is laid over it when it shall overlap.
 */
export function spliced(source: Clip, render: Clip, region: Span, { fade, tail }: Splice): Clip {
  const length = region.end - region.start;
  const over = Math.max(0, Math.min(Math.floor(length / 2), Math.round(fade)));
  const overlap = tail === 'overlap';
  const start = overlap ? Math.min(source.origin, render.origin) : source.origin;
  const end = overlap ? Math.max(clipEnd(source), clipEnd(render)) : clipEnd(source);
  const count = Math.max(source.channels.length, render.channels.length);
  const channels = Array.from({ length: count }, (_, c) => {
    const old = source.channels[Math.min(c, source.channels.length - 1)];
    const fresh = render.channels[Math.min(c, render.channels.length - 1)];
    const out = new Float32Array(end - start);
    out.set(old, source.origin - start);
    for (let i = 0; i < length; i++) {
      // How much of the copy is left: none in the middle of the region.
      const left =
        over === 0
          ? 0
          : Math.max(fadeGain('s-shaped', 1 - i / over), fadeGain('s-shaped', 1 - (length - 1 - i) / over));
      const atRender = region.start + i - render.origin;
      const sample = atRender >= 0 && atRender < fresh.length ? fresh[atRender] : 0;
      // A tail that goes on is not faded out where the copy comes back.
      const gain = overlap && i > length / 2 ? 1 : 1 - left;
      out[region.start + i - start] = left * old[region.start + i - source.origin] + gain * sample;
    }
    if (overlap) {
      for (let i = 0; i < fresh.length; i++) {
        const at = render.origin + i;
        if (at < region.start || at >= region.end) out[at - start] += fresh[i];
      }
    }
    return out;
  });
  return { sampleRate: source.sampleRate, origin: start, channels };
}
