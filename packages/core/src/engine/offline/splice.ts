/**
 * Puts the render of a region back into a copy of its sound, so that neither joint is heard: not as a step, not as a hole
 * and not as a swell.
 */
import type { Catalogue } from '../../catalogue/catalogue.ts';
import { allStages } from '../../chain/branches.ts';
import type { ChainDocument, SpliceTail } from '../../chain/schema.ts';
import { fadeGain } from '../../dsp/fadeCurve.ts';
import { clipEnd, frameCount, type Clip, type Span } from '../../model/clip.ts';

export interface Splice {
  /** Frames over which the copy goes over into the render and back, inside the region. */
  readonly fade: number;
  /** Whether what the render adds around the region sounds over the copy, or ends with the region. */
  readonly tail: SpliceTail;
}

/** Seconds at the most over which a chain's input ends softly. */
const SOFT_SECONDS = 0.005;
/** What is louder than this at the very end of a render, beside the level before it, is a step. */
const ABRUPT = 0.1;
const ABRUPT_SECONDS = 0.001;
/** Most by which a crossfade is raised where its two sides do not add up: 3 dB. */
const MOST_RAISE = Math.SQRT2 - 1;

/** Frames of a fade in a region: it takes half of it at the most. */
const fadeFrames = (fade: number, length: number) => Math.max(0, Math.min(Math.floor(length / 2), Math.round(fade)));

/**
 * The sound of a region as a chain is given it when its tail shall ring over what follows: without a step where it is cut
 * out, which filters and halls would pass on as a click. A chain of live stages hears it fade out over `fadedOut` frames,
 * which come out at the same place. One that also turns or stretches time hears all of it, less a bend at either end that
 * takes its first and last sample to zero: an attack at the start stays whole.
 */
export function softenInput(
  catalogue: Catalogue,
  part: Clip,
  {
    chain,
    source,
    region,
    fade,
  }: { readonly chain: ChainDocument; readonly source: Clip; readonly region: Span; readonly fade: number },
): { readonly clip: Clip; readonly fadedOut: number } {
  const kinds = new Set(
    allStages(chain.stages).flatMap(({ stage }) => (stage.on ? [catalogue.for(chain).of(stage).runs] : [])),
  );
  const length = frameCount(part);
  const soft = Math.min(fadeFrames(fade, length), Math.round(SOFT_SECONDS * source.sampleRate));
  const cutStart = region.start > 0;
  const cutEnd = region.end < frameCount(source);
  if (!kinds.has('live') || soft === 0) return { clip: part, fadedOut: 0 };
  if (!kinds.has('offline')) {
    if (!cutEnd) return { clip: part, fadedOut: 0 };
    const channels = part.channels.map((samples) =>
      samples.map((x, i) => x * fadeGain('s-shaped', (length - 1 - i) / soft)),
    );
    return { clip: { ...part, channels }, fadedOut: soft };
  }
  const channels = part.channels.map((samples) => {
    const first = cutStart ? samples[0] : 0;
    const last = cutEnd ? samples[length - 1] : 0;
    return samples.map(
      (x, i) =>
        x - first * fadeGain('s-shaped', 1 - i / soft) - last * fadeGain('s-shaped', 1 - (length - 1 - i) / soft),
    );
  });
  return { clip: { ...part, channels }, fadedOut: 0 };
}

/**
 * A copy of a sound with a render in place of a region. Fades lie inside the region, and only where sound lies beside it;
 * outside it every sample is the original's, but for the overhang that is laid over it when it shall overlap. `fadedOut`
 * frames at the region's end the render has faded out by itself.
 *
 * An overhang does not begin at the joint: within the fade it comes in as its own mirror image, so that it is there, at its
 * level and without a step, where the render's body has gone. Where the two sides of a crossfade do not add up, it is
 * raised by as much as is missing in power.
 */
export function spliced(
  source: Clip,
  rendered: Clip,
  region: Span,
  { fade, tail, fadedOut = 0 }: Splice & { readonly fadedOut?: number },
): Clip {
  const overlap = tail === 'overlap';
  const over = fadeFrames(fade, region.end - region.start);
  const render = softenOwnEnds(rendered, region, over);
  const start = overlap ? Math.min(source.origin, render.origin) : source.origin;
  const end = overlap ? Math.max(clipEnd(source), clipEnd(render)) : clipEnd(source);
  const count = Math.max(source.channels.length, render.channels.length);
  const at = (samples: Float32Array, origin: number, frame: number) => samples[frame - origin] ?? 0;
  const channels = Array.from({ length: count }, (_, c) => {
    const old = source.channels[Math.min(c, source.channels.length - 1)];
    const fresh = render.channels[Math.min(c, render.channels.length - 1)];
    const out = new Float32Array(end - start);
    out.set(old, source.origin - start);
    if (overlap)
      for (let i = 0; i < fresh.length; i++) {
        const frame = render.origin + i;
        if (frame < region.start || frame >= region.end) out[frame - start] += fresh[i];
      }
    for (let frame = region.start; frame < region.end; frame++) out[frame - start] = at(fresh, render.origin, frame);
    return { old, fresh, out };
  });
  /** Crossfades at one joint; `frameAt(k)` is the k-th frame from it into the region, `mirrored(k)` the k-th out of it. */
  const join = (frameAt: (k: number) => number, mirrored: (k: number) => number, faded: number) => {
    const inward = Float64Array.from({ length: over }, (_, k) => fadeGain('s-shaped', k / over));
    const own = (k: number) => (faded > 0 ? fadeGain('s-shaped', k / faded) : 1);
    const parts = channels.map(({ old, fresh, out }) => ({
      out,
      body: Float64Array.from(inward, (_, k) => at(fresh, render.origin, frameAt(k))),
      copy: Float64Array.from(
        inward,
        (_, k) => at(old, source.origin, frameAt(k)) + (overlap ? at(fresh, render.origin, mirrored(k)) : 0),
      ),
    }));
    const raise = missing(parts, inward, faded);
    for (const { out, body, copy } of parts)
      for (let k = 0; k < over; k++) {
        const gain = inward[k];
        const sum = gain * body[k] + (1 - gain * own(k)) * copy[k];
        out[frameAt(k) - start] = sum * (1 + raise * 4 * gain * (1 - gain));
      }
  };
  if (over > 0 && region.start > source.origin)
    join(
      (k) => region.start + k,
      (k) => region.start - 1 - k,
      0,
    );
  if (over > 0 && region.end < clipEnd(source))
    join(
      (k) => region.end - 1 - k,
      (k) => region.end + k,
      fadedOut,
    );
  return {
    sampleRate: source.sampleRate,
    origin: start,
    channels: channels.map(({ out }) => out),
    touched: overlap
      ? { start: Math.min(region.start, render.origin), end: Math.max(region.end, clipEnd(render)) }
      : region,
  };
}

/**
 * How far a crossfade of these two sides has to be raised in its middle so that it keeps their power. The weights w and
 * 1 − w lose w(1 − w)(a − b)² of it: nothing where the sides are the same.
 */
function missing(
  parts: readonly { readonly body: Float64Array; readonly copy: Float64Array }[],
  weights: Float64Array,
  from: number,
): number {
  let lost = 0;
  let once = 0;
  let twice = 0;
  for (const { body, copy } of parts)
    for (let k = from; k < weights.length; k++) {
      const w = weights[k];
      const bump = 4 * w * (1 - w);
      const sum = w * body[k] + (1 - w) * copy[k];
      lost += w * (1 - w) * (body[k] - copy[k]) ** 2;
      once += bump * sum * sum;
      twice += bump * bump * sum * sum;
    }
  if (!(twice > 0)) return 0;
  return Math.min(MOST_RAISE, (Math.sqrt(once * once + twice * lost) - once) / twice);
}

/** Where a render begins or ends elsewhere than the region does, and with a step, it is faded there. */
function softenOwnEnds(render: Clip, region: Span, over: number): Clip {
  const frames = frameCount(render);
  const fade = Math.min(over, Math.floor(frames / 2));
  const edge = Math.min(fade, Math.max(1, Math.round(ABRUPT_SECONDS * render.sampleRate)));
  if (fade === 0) return render;
  const level = (from: number, to: number) =>
    Math.sqrt(
      render.channels.reduce((sum, samples) => {
        for (let i = from; i < to; i++) sum += samples[i] ** 2;
        return sum;
      }, 0) / Math.max(1, to - from),
    );
  const first = render.origin !== region.start && level(0, edge) > ABRUPT * level(0, fade) ? fade : 0;
  const last =
    clipEnd(render) !== region.end && level(frames - edge, frames) > ABRUPT * level(frames - fade, frames) ? fade : 0;
  if (first === 0 && last === 0) return render;
  const channels = render.channels.map((samples) =>
    samples.map(
      (x, i) =>
        x *
        (first > 0 ? fadeGain('s-shaped', (i + 0.5) / first) : 1) *
        (last > 0 ? fadeGain('s-shaped', (frames - 0.5 - i) / last) : 1),
    ),
  );
  return { ...render, channels };
}
