import { cookbook } from '../../../dsp/cookbook.ts';
import { GainRamp } from '../../../dsp/gainRamp.ts';
import { ringSize } from '../../../dsp/lagrange.ts';
import { MovingBiquad } from '../../../dsp/movingBiquad.ts';
import { TAU, exp, log } from '../../../dsp/portableMath.ts';
import { constant, type Ramp } from '../../../model/ramp.ts';
import { smoothStep } from '../../../dsp/smoothStep.ts';
import { SteppedDelay } from '../../../dsp/steppedDelay.ts';
import type { LiveContext } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import type { NetworkKernel } from '../../../dsp/kernels/contract.ts';
import {
  IMAGES,
  ORDER,
  SPEED_OF_SOUND,
  SURFACES,
  eyringTime,
  lateLevel,
  meanAbsorption,
  mirrored,
  type RoomShape,
  type Surface,
} from './geometry.ts';
import { settled } from '../../../dsp/settled.ts';

export const MOST_METRES = 60;
const HIGHEST = 30;
const MOST_PRE_DELAY = 0.3;
/** Seconds in which one arrangement of reflections fades into the next. */
const FADE_SECONDS = 0.03;
/** Nearer than this nothing gets louder, in metres. */
export const NEAREST = 0.3;
/** The late part is never louder than this, against the direct sound at a metre. */
export const MOST_STRENGTH = 2;
/** Hz above which surfaces swallow by their second number. */
const HIGHS = 3500;
const LONGEST_METRES = (ORDER + 1.5) * Math.sqrt(2 * MOST_METRES * MOST_METRES + HIGHEST * HIGHEST);

interface RoomValues extends Record<keyof RoomShape, Ramp> {
  readonly walls: Surface;
  readonly floor: Surface;
  readonly ceiling: Surface;
  readonly direct: Ramp;
  readonly reflections: Ramp;
  readonly late: Ramp;
  readonly ownDecay: boolean;
  readonly decay: Ramp;
  readonly preDelay: Ramp;
  readonly lowTone: Ramp;
  readonly highTone: Ramp;
}

/** Delays in frames and gains left and right of the source and its images. */
class Arrangement {
  readonly delays = new Int32Array(IMAGES.length);
  readonly left = new Float64Array(IMAGES.length);
  readonly right = new Float64Array(IMAGES.length);
}

/**
 * A shoebox room: direct sound and reflections of up to three walls as images of the source (J. B. Allen & D. A. Berkley,
 * "Image method for efficiently simulating small-room acoustics", 1979), as loud as 1/r and darker with every wall; the
 * rest by a feedback network that decays as the room does. One listens towards the front wall.
 */
export class RoomProcessor {
  readonly memoryFrames: number;
  private readonly sampleRate: number;
  private readonly inputs: number;
  private readonly ring: Float32Array;
  private readonly mask: number;
  private position = 0;
  private current = new Arrangement();
  private next = new Arrangement();
  private faded = -1;
  private readonly fadeFrames: number;
  /** The shape that the newest arrangement was worked out for. */
  private readonly known = new Float64Array(9).fill(NaN);
  private readonly shape: RoomShape;
  private readonly network: NetworkKernel;
  private readonly lateDelay: SteppedDelay;
  private lateFrames = 0;
  private lateGain = NaN;
  /** What the room asks for, and how far the network has come. */
  private strength = 0;
  private strengthNow = 0;
  private ownDecay = 1;
  private ownHighDecay = 1;
  private readonly reflected = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  /** Reflections of each order, left and right: darker with every one. */
  private readonly orders = Array.from({ length: 2 * ORDER }, () => new Float64Array(BLOCK_FRAMES));
  private readonly dark = new Float64Array(2 * ORDER);
  private readonly darkStep: number;
  private readonly share: number;
  private readonly straight = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly fed = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly gain: Ramp = constant(0);
  private readonly directGain = new GainRamp();
  private readonly reflectionsGain = new GainRamp();
  private readonly lateRamp = new GainRamp();
  private readonly preDelays: SteppedDelay[];
  private readonly tones = {
    low: [new MovingBiquad(), new MovingBiquad()],
    high: [new MovingBiquad(), new MovingBiquad()],
  };
  private readonly toneKnown = new Float64Array(2).fill(NaN);
  private readonly lowTone = { b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 };
  private readonly highTone = { b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 };
  private readonly walls: number;
  private readonly floor: number;
  private readonly ceiling: number;
  private readonly wallsHigh: number;
  private readonly floorHigh: number;
  private readonly ceilingHigh: number;
  /** What the network is set to. */
  private readonly late = {
    decay: constant(1),
    lowDecay: constant(1),
    highDecay: constant(0.7),
    lowCrossover: constant(200),
    highCrossover: constant(HIGHS),
    movement: constant(0),
    hold: false,
  };
  private size = 0.5;

  constructor(
    { sampleRate, inputChannels, random, kernels }: LiveContext,
    { walls, floor, ceiling }: { readonly walls: Surface; readonly floor: Surface; readonly ceiling: Surface },
  ) {
    this.sampleRate = sampleRate;
    this.inputs = inputChannels;
    const longest = Math.ceil((LONGEST_METRES / SPEED_OF_SOUND) * sampleRate) + 8;
    const size = ringSize(longest + BLOCK_FRAMES);
    this.ring = new Float32Array(size);
    this.mask = size - 1;
    this.memoryFrames = longest + MOST_PRE_DELAY * sampleRate;
    this.fadeFrames = Math.round(FADE_SECONDS * sampleRate);
    [this.walls, this.wallsHigh] = SURFACES[walls];
    [this.floor, this.floorHigh] = SURFACES[floor];
    [this.ceiling, this.ceilingHigh] = SURFACES[ceiling];
    this.network = kernels.network(sampleRate, 2, random);
    this.lateDelay = new SteppedDelay(0.3 * sampleRate, BLOCK_FRAMES, sampleRate);
    this.preDelays = [0, 1].map(() => new SteppedDelay(MOST_PRE_DELAY * sampleRate, BLOCK_FRAMES, sampleRate));
    this.darkStep = 1 - exp((-TAU * Math.min(HIGHS, 0.4 * sampleRate)) / sampleRate);
    // What is left of the highs, against the middle, after one reflection on the average.
    const middle = (4 * this.walls + this.floor + this.ceiling) / 6;
    const high = (4 * this.wallsHigh + this.floorHigh + this.ceilingHigh) / 6;
    this.share = Math.sqrt((1 - high) / (1 - middle));
    this.shape = {
      length: 0,
      width: 0,
      height: 0,
      sourceAlong: 0,
      sourceAcross: 0,
      sourceHeight: 0,
      listenerAlong: 0,
      listenerAcross: 0,
      listenerHeight: 0,
    };
  }

  reset(): void {
    this.ring.fill(0);
    this.position = 0;
    this.faded = -1;
    this.known.fill(NaN);
    this.network.reset();
    this.lateDelay.reset();
    this.lateGain = NaN;
    this.dark.fill(0);
    this.directGain.reset();
    this.reflectionsGain.reset();
    this.lateRamp.reset();
    this.toneKnown.fill(NaN);
    for (let side = 0; side < 2; side++) {
      this.preDelays[side].reset();
      this.tones.low[side].reset();
      this.tones.high[side].reset();
    }
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: RoomValues,
    place: number,
  ): void {
    this.network.begin(place);
    const { ring, mask, position, fed, straight, reflected } = this;
    this.arrange(values);
    const left = input[0];
    const right = input[this.inputs - 1];
    for (let i = 0; i < frames; i++) {
      const sum = 0.5 * (left[i] + right[i]);
      ring[(position + i) & mask] = sum;
      fed[0][i] = sum;
      fed[1][i] = sum;
    }
    this.readImages(frames);
    this.directGain.advance(values.direct.end);
    this.reflectionsGain.advance(values.reflections.end);
    for (let side = 0; side < 2; side++) {
      this.directGain.apply(straight[side], frames);
      this.reflectionsGain.apply(reflected[side], frames);
    }
    this.runLate(frames, values);
    const preDelay = Math.round(values.preDelay.end * this.sampleRate);
    this.setTones(values);
    for (let side = 0; side < 2; side++) {
      this.preDelays[side].pass(reflected[side], frames, preDelay);
      this.tones.low[side].process(reflected[side], frames, this.lowTone);
      this.tones.high[side].process(reflected[side], frames, this.highTone);
      const out = output[side];
      for (let i = 0; i < frames; i++) out[i] = straight[side][i] + reflected[side][i];
    }
    this.position = (position + frames) & mask;
  }

  /** Begins to pass over to another arrangement when the room is no longer the one it was worked out for. */
  private arrange(values: RoomValues): void {
    const { known, shape } = this;
    if (this.faded >= this.fadeFrames) {
      const old = this.current;
      this.current = this.next;
      this.next = old;
      this.faded = -1;
    }
    if (this.faded >= 0) return;
    const fresh = Number.isNaN(known[0]);
    if (
      values.length.end === known[0] &&
      values.width.end === known[1] &&
      values.height.end === known[2] &&
      values.sourceAlong.end === known[3] &&
      values.sourceAcross.end === known[4] &&
      values.sourceHeight.end === known[5] &&
      values.listenerAlong.end === known[6] &&
      values.listenerAcross.end === known[7] &&
      values.listenerHeight.end === known[8]
    )
      return;
    known[0] = shape.length = values.length.end;
    known[1] = shape.width = values.width.end;
    known[2] = shape.height = values.height.end;
    known[3] = shape.sourceAlong = values.sourceAlong.end;
    known[4] = shape.sourceAcross = values.sourceAcross.end;
    known[5] = shape.sourceHeight = values.sourceHeight.end;
    known[6] = shape.listenerAlong = values.listenerAlong.end;
    known[7] = shape.listenerAcross = values.listenerAcross.end;
    known[8] = shape.listenerHeight = values.listenerHeight.end;
    this.placeImages(fresh ? this.current : this.next);
    if (!fresh) this.faded = 0;
    this.placeLate();
  }

  private placeImages(into: Arrangement): void {
    const { shape, sampleRate } = this;
    const hereX = shape.listenerAlong * shape.length;
    const hereY = shape.listenerAcross * shape.width;
    const hereZ = shape.listenerHeight * shape.height;
    const wall = Math.sqrt(1 - this.walls);
    const floor = Math.sqrt(1 - this.floor);
    const ceiling = Math.sqrt(1 - this.ceiling);
    for (let n = 0; n < IMAGES.length; n++) {
      const image = IMAGES[n];
      const x = mirrored(image.x, shape.length, shape.sourceAlong * shape.length) - hereX;
      const y = mirrored(image.y, shape.width, shape.sourceAcross * shape.width) - hereY;
      const z = mirrored(image.z, shape.height, shape.sourceHeight * shape.height) - hereZ;
      const distance = Math.sqrt(x * x + y * y + z * z);
      let gain = 1 / Math.max(NEAREST, distance);
      for (let k = 0; k < image.walls; k++) gain *= wall;
      for (let k = 0; k < image.floor; k++) gain *= floor;
      for (let k = 0; k < image.ceiling; k++) gain *= ceiling;
      // The right is where y grows; behind sounds like before.
      const across = distance > 0 ? y / distance : 0;
      into.delays[n] = Math.round((distance / SPEED_OF_SOUND) * sampleRate);
      into.left[n] = gain * Math.sqrt(0.5 * (1 - across));
      into.right[n] = gain * Math.sqrt(0.5 * (1 + across));
    }
  }

  private placeLate(): void {
    const { shape } = this;
    const middle = meanAbsorption(shape, this.walls, this.floor, this.ceiling);
    const high = meanAbsorption(shape, this.wallsHigh, this.floorHigh, this.ceilingHigh);
    const decay = Math.min(20, Math.max(0.1, eyringTime(shape, middle)));
    this.ownDecay = decay;
    this.ownHighDecay = Math.max(0.1, Math.min(1.5, eyringTime(shape, high) / decay));
    this.strength = Math.min(MOST_STRENGTH, lateLevel(shape, middle));
    const volume = shape.length * shape.width * shape.height;
    // As large as the room: its edge, were it a cube, against one of 15 m, which the lines at 100 % stand for.
    this.size = Math.max(0.12, Math.min(2, exp(log(volume) / 3) / 15));
    const sway = 0.25 * Math.min(1, this.size);
    this.late.movement.start = sway;
    this.late.movement.end = sway;
    // It begins when the last followed reflections come: their mean free paths.
    const area = 2 * (shape.length * shape.width + (shape.length + shape.width) * shape.height);
    const path = (4 * volume) / area;
    this.lateFrames = Math.round(Math.min(0.29, (ORDER * path) / SPEED_OF_SOUND) * this.sampleRate);
  }

  /** Fills `straight` and `reflected` from the ring. */
  private readImages(frames: number): void {
    const { reflected, orders, dark, darkStep } = this;
    this.sumImages(this.current, frames, false);
    if (this.faded >= 0) {
      this.sumImages(this.next, frames, true);
      this.faded += frames;
    }
    let share = 1;
    for (let side = 0; side < 2; side++) for (let i = 0; i < frames; i++) reflected[side][i] = 0;
    for (let order = 1; order <= ORDER; order++) {
      share *= this.share;
      for (let side = 0; side < 2; side++) {
        const own = orders[2 * (order - 1) + side];
        const sum = reflected[side];
        let low = dark[2 * (order - 1) + side];
        for (let i = 0; i < frames; i++) {
          low += darkStep * (own[i] - low);
          sum[i] += low + share * (own[i] - low);
        }
        dark[2 * (order - 1) + side] = settled(low);
      }
    }
  }

  /** Sums up an arrangement, or fades over to it. */
  private sumImages(arrangement: Arrangement, frames: number, fades: boolean): void {
    const { ring, mask, orders, straight } = this;
    const { delays, left, right } = arrangement;
    const length = this.fadeFrames;
    for (let n = 0, first = 0; first < IMAGES.length; n++) {
      let end = first;
      while (end < IMAGES.length && IMAGES[end].order === n) end++;
      const a = n === 0 ? straight[0] : orders[2 * (n - 1)];
      const b = n === 0 ? straight[1] : orders[2 * (n - 1) + 1];
      if (fades) {
        for (let i = 0; i < frames; i++) {
          const kept = 1 - smoothStep((this.faded + i) / length);
          a[i] *= kept;
          b[i] *= kept;
        }
      } else {
        for (let i = 0; i < frames; i++) {
          a[i] = 0;
          b[i] = 0;
        }
      }
      for (let k = first; k < end; k++) {
        const at = this.position + mask + 1 - delays[k];
        const l = left[k];
        const r = right[k];
        if (fades) {
          for (let i = 0; i < frames; i++) {
            const x = smoothStep((this.faded + i) / length) * ring[(at + i) & mask];
            a[i] += l * x;
            b[i] += r * x;
          }
        } else {
          for (let i = 0; i < frames; i++) {
            const x = ring[(at + i) & mask];
            a[i] += l * x;
            b[i] += r * x;
          }
        }
      }
      first = end;
    }
  }

  /** Adds the late part to `reflected`. */
  private runLate(frames: number, values: RoomValues): void {
    const { fed, late, network, gain, reflected, lateRamp } = this;
    // The network follows a new room a little later than the reflections do, in its own time.
    const fresh = Number.isNaN(this.lateGain);
    const share = fresh ? 1 : Math.min(1, frames / (FADE_SECONDS * this.sampleRate));
    late.decay.end = exp(
      log(late.decay.end) + share * (log(values.ownDecay ? values.decay.end : this.ownDecay) - log(late.decay.end)),
    );
    late.decay.start = late.decay.end;
    late.highDecay.end += share * (this.ownHighDecay - late.highDecay.end);
    late.highDecay.start = late.highDecay.end;
    const strengthStart = fresh ? this.strength : this.strengthNow;
    this.strengthNow = strengthStart + share * (this.strength - strengthStart);
    const strengthStep = (this.strengthNow - strengthStart) / frames;
    this.lateDelay.pass(fed[0], frames, this.lateFrames);
    for (let i = 0; i < frames; i++) fed[1][i] = fed[0][i];
    lateRamp.advance(values.late.end);
    for (let done = 0; done < frames;) {
      network.resize(this.size);
      const count = Math.min(frames - done, network.maxFrames);
      network.tune(late, count);
      for (let side = 0; side < 2; side++) {
        this.straightPart(fed[side], done, count, this.lateIn[side]);
        this.lateOut[side].fill(0, 0, count);
      }
      gain.end = (strengthStart + strengthStep * (done + count)) * Math.sqrt(1 - network.energyKept);
      gain.start = Number.isNaN(this.lateGain) ? gain.end : this.lateGain;
      this.lateGain = gain.end;
      network.process(this.lateIn[0], this.lateIn[1], this.lateOut[0], this.lateOut[1], gain, count);
      const step = (lateRamp.end - lateRamp.start) / frames;
      for (let side = 0; side < 2; side++) {
        const sum = reflected[side];
        const wet = this.lateOut[side];
        let level = lateRamp.start + step * done;
        for (let i = 0; i < count; i++) {
          sum[done + i] += level * wet[i];
          level += step;
        }
      }
      done += count;
    }
  }

  private readonly lateIn = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly lateOut = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];

  private straightPart(from: Float64Array, done: number, count: number, into: Float64Array): void {
    for (let i = 0; i < count; i++) into[i] = from[done + i];
  }

  private setTones({ lowTone, highTone }: RoomValues): void {
    const { toneKnown, sampleRate } = this;
    if (lowTone.end !== toneKnown[0]) {
      toneKnown[0] = lowTone.end;
      cookbook('low shelf', 250, lowTone.end, 0.707, sampleRate, this.lowTone);
    }
    if (highTone.end !== toneKnown[1]) {
      toneKnown[1] = highTone.end;
      cookbook('high shelf', 4000, highTone.end, 0.707, sampleRate, this.highTone);
    }
  }
}
