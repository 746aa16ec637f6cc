import { fadeGain } from '../../../dsp/fadeCurve.ts';
import { exp } from '../../../dsp/portableMath.ts';
import { Octaves } from '../../../dsp/octaves.ts';
import { clipEnd, cropClip, type Clip, type Span } from '../../../model/clip.ts';
import { CurveReader, curveAt, type Breakpoints } from '../../../modulation/curve.ts';
import { showSeconds } from '../../../timing/display.ts';
import { defineClipStage } from '../../contract.ts';
import { choice, curve, number } from '../../../params/params.ts';
import { HIGHER_COUNTS } from '../../rise.ts';
import { fillInSteps } from './inSteps.ts';
import { words } from '../../../model/words.ts';

export const bend = defineClipStage({
  kind: 'bend',
  family: 'clip',
  title: 'Varispeed curve',
  summary: 'Plays the clip at a speed drawn over it: speed and pitch rise and fall together.',
  keywords: words(
    'pitch bend, slow down, speed up, dive, fall, drop, rise, tape, turntable, glide, varispeed, bend, pitch envelope, glissando, accelerate, decelerate, ramp, wind up, wind down, curve',
  ),
  mixLaw: 'linear',
  retunes: true,
  params: {
    speed: curve({
      label: 'speed curve',
      unit: 'semitones',
      default: {
        over: 'clip',
        points: [
          { at: 0, value: 0, bend: 0 },
          { at: 1, value: -12, bend: 0 },
        ],
      },
      min: -48,
      max: 48,
      doc: 'The speed as semitones over the clip: 12 is twice as fast and an octave up, −12 half as fast and an octave down.',
    }),
    length: choice(['free', 'kept', 'rest'], {
      label: 'length mode',
      shown: { free: 'follows curve', kept: 'original', rest: 'rest unchanged' },
      default: 'free',
      doc: 'Follows curve: it gets as short or long as the speed makes it. Original: it lasts as long as before; all of it plays higher or lower by as much as that takes. Rest unchanged: after the last breakpoint the sound goes on at its own time and pitch; what is too long by then is cut, what is missing is filled from the sound beyond.',
    }),
    times: number({
      label: 'passes',
      default: 1,
      min: 1,
      max: 8,
      doc: 'How often the curve is applied, each time to what came out of the time before. More is steeper.',
    }),
  },
  hearsBeyond: true,
  heldTo: [
    {
      what: 'A sine follows the curve',
      limit: ['within', 3, 'cents'],
      how: 'by the frequency of a bent sine, piece by piece',
    },
    {
      what: 'Free, it lasts as long as the integral of the inverse speed',
      limit: ['within', 1, 'frame'],
      how: 'by the length of what comes out',
    },
    { what: 'With the rest unchanged, all after the last breakpoint is the sound itself', how: 'sample by sample' },
  ],
  mayRise: { by: '4 LU where it is fast, as high tones count for more', most: () => HIGHER_COUNTS },
  estimate(frames, { speed, length, times }, sampleRate) {
    let estimated = frames;
    if (length === 'free')
      for (let n = 0; n < Math.round(times); n++) estimated = lastingFrames(speed, estimated, sampleRate);
    return { frames: Math.round(estimated), cost: 600 * Math.round(times) };
  },
  says({ speed, length }, frames, sampleRate) {
    if (length !== 'rest') return undefined;
    const bentFrames = bentPart(speed, frames, sampleRate);
    const over = lastingFrames(speed, bentFrames, sampleRate) - bentFrames;
    const time = showSeconds(Math.abs(over) / sampleRate);
    const part = `The bent part is ${showSeconds(bentFrames / sampleRate)} long`;
    if (Math.abs(over) < 0.0005 * sampleRate) return `${part}; nothing is cut or filled.`;
    return over > 0
      ? `${part}; ${time} of it come too late and are cut.`
      : `${part}; ${time} are filled from the sound beyond.`;
  },
  *transform(clip, { speed, length, times }, { span }) {
    const count = Math.round(times);
    let bent: Clip & { readonly span: Span } = { ...clip, span };
    for (let n = 0; n < count; n++) {
      // From the span's start on, so that the curve begins with the clip.
      const whole = cropClip(bent, Math.min(bent.origin, bent.span.start), clipEnd(bent));
      const work = BENDS[length](whole, speed, bent.span);
      let next = work.next();
      for (; !next.done; next = work.next()) yield (n + next.value) / count;
      bent = next.value;
    }
    return bent;
  },
});

type Bent = Generator<number, Clip & { readonly span: Span }, void>;

const BENDS = { free: bendFreely, kept: bendWithin, rest: bendUpTo };

/** Seconds over which what is bent passes into the rest. */
const JOINT = 0.01;

/** Frames up to the last breakpoint of a curve over a span of so many. */
function bentPart(curve: Breakpoints, span: number, sampleRate: number): number {
  const last = curve.points[curve.points.length - 1].at;
  return Math.min(span, Math.round(curve.over === 'clip' ? last * span : last * sampleRate));
}

const factorOf = (interval: number) => exp((interval / 12) * Math.LN2);

/** A curve's speed at frames of a span that only rise; before and behind the span that of its ends. */
class SpeedReader {
  private readonly reader: CurveReader;
  private readonly scale: number;
  private readonly span: number;
  private interval = NaN;
  private factor = 1;

  constructor(curve: Breakpoints, span: number, sampleRate: number) {
    this.reader = new CurveReader(curve);
    this.scale = curve.over === 'clip' ? 1 / span : 1 / sampleRate;
    this.span = span;
  }

  at(frame: number): number {
    const inside = frame < 0 ? 0 : frame > this.span ? this.span : frame;
    const interval = this.reader.at(inside * this.scale);
    // Most curves stand still for long, and the exponential is what costs.
    if (interval !== this.interval) {
      this.interval = interval;
      this.factor = factorOf(interval);
    }
    return this.factor;
  }
}

/** Sums up, by Simpson's rule, how long the frames last when each is passed at the curve's speed. */
class Clock {
  private readonly speeds: SpeedReader;
  private atStart: number;
  /** Frames from the span's start, and when that is; the time of the frame before. */
  frame: number;
  time: number;
  before: number;

  /** `first` ≤ 0: before the span the speed stands, so the time is known there. */
  constructor(speeds: SpeedReader, first: number) {
    this.speeds = speeds;
    this.frame = first;
    this.atStart = 1 / speeds.at(first);
    this.time = first * this.atStart;
    this.before = this.time;
  }

  advance(): void {
    const middle = 1 / this.speeds.at(this.frame + 0.5);
    const end = 1 / this.speeds.at(this.frame + 1);
    this.before = this.time;
    this.time += (this.atStart + 4 * middle + end) / 6;
    this.atStart = end;
    this.frame += 1;
  }
}

/** Frames that a span lasts when it is bent freely, to a thousandth. */
function lastingFrames(curve: Breakpoints, span: number, sampleRate: number): number {
  const parts = 2000;
  const scale = curve.over === 'clip' ? 1 : span / sampleRate;
  let sum = 0;
  for (let n = 0; n < parts; n++) sum += 1 / factorOf(curveAt(curve, ((n + 0.5) / parts) * scale));
  return (span * sum) / parts;
}

/** The curve tells the speed at each place of the clip; the clip gets as long as it takes. */
function* bendFreely(clip: Clip, curve: Breakpoints, span: Span, until = Infinity): Bent {
  const { sampleRate } = clip;
  const first = clip.origin - span.start;
  const last = clipEnd(clip) - span.start;
  const length = span.end - span.start;
  const clockFrom = () => new Clock(new SpeedReader(curve, length, sampleRate), first);
  const measuring = clockFrom();
  const start = Math.round(measuring.time);
  let lasts = 0;
  while (measuring.frame < last && measuring.time < until) {
    measuring.advance();
    if (measuring.frame === length) lasts = measuring.time;
  }
  const frames = Math.max(1, Math.min(until, Math.round(measuring.time)) - start);
  const clocks = clip.channels.map(clockFrom);
  const octaves = clip.channels.map((samples) => new Octaves(samples));
  const channels = yield* fillInSteps(clip.channels, frames, (_samples, out, from, to, c) => {
    const clock = clocks[c];
    for (let i = from; i < to; i++) {
      while (clock.time <= start + i && clock.frame <= last) clock.advance();
      const lasting = Math.max(1e-9, clock.time - clock.before);
      const place = clock.frame - (clock.time - start - i) / lasting;
      out[i] = octaves[c].read(place - first, lasting);
    }
  });
  const end = span.start + Math.max(1, Math.round(lasts > 0 ? lasts : measuring.time));
  return { sampleRate, origin: span.start + start, channels, span: { start: span.start, end } };
}

/** Bent as far as the last breakpoint, in its own time; then, and before the span, the clip as it is. */
function* bendUpTo(clip: Clip, curve: Breakpoints, span: Span): Bent {
  const length = bentPart(curve, span.end - span.start, clip.sampleRate);
  if (length === 0) return { ...clip, span };
  const part = cropClip(clip, span.start, clipEnd(clip));
  const bent = yield* bendFreely(part, curve, span, length);
  const fade = Math.min(length, Math.round(JOINT * clip.sampleRate));
  const first = span.start - clip.origin;
  const channels = clip.channels.map((samples, c) => {
    const out = samples.slice();
    for (let i = 0; i < length && first + i < out.length; i++) {
      const own = bent.channels[c][i] ?? 0;
      const gone = fadeGain('s-shaped', (i - (length - fade) + 0.5) / fade);
      out[first + i] = i < length - fade ? own : own * (1 - gone) + samples[first + i] * gone;
    }
    return out;
  });
  return { ...clip, channels, span };
}

/** The curve tells the speed at each moment of the result, which lasts as long as the clip; all of it is played. */
function* bendWithin(clip: Clip, curve: Breakpoints, span: Span): Bent {
  const { sampleRate } = clip;
  const length = span.end - span.start;
  const readerOf = () => new SpeedReader(curve, length, sampleRate);
  const scale = length / distance(readerOf(), length);
  const first = clip.origin - span.start;
  const last = clipEnd(clip) - span.start;
  const atStart = readerOf().at(0) * scale;
  const atEnd = readerOf().at(length) * scale;
  const start = Math.round(first / atStart);
  const frames = Math.max(1, length + Math.round((last - length) / atEnd) - start);
  const readers = clip.channels.map(readerOf);
  const octaves = clip.channels.map((samples) => new Octaves(samples));
  // Where each channel is read next, and how fast.
  const places = clip.channels.map(() => start * atStart);
  const speeds = clip.channels.map(() => atStart / scale);
  const channels = yield* fillInSteps(clip.channels, frames, (_samples, out, from, to, c) => {
    const reader = readers[c];
    for (let i = from; i < to; i++) {
      out[i] = octaves[c].read(places[c] - first, 1 / (speeds[c] * scale));
      const middle = reader.at(start + i + 0.5);
      const next = reader.at(start + i + 1);
      places[c] += (scale * (speeds[c] + 4 * middle + next)) / 6;
      speeds[c] = next;
    }
  });
  return { sampleRate, origin: span.start + start, channels, span };
}

/** Frames of the clip that are passed in so many frames at the curve's speed. */
function distance(speeds: SpeedReader, frames: number): number {
  let sum = 0;
  let before = speeds.at(0);
  for (let frame = 0; frame < frames; frame++) {
    const middle = speeds.at(frame + 0.5);
    const end = speeds.at(frame + 1);
    sum += (before + 4 * middle + end) / 6;
    before = end;
  }
  return sum;
}
