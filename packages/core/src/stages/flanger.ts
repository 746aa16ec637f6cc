import { GlidingDelay } from '../dsp/glidingDelay.ts';
import { Lfo } from '../dsp/lfo.ts';
import { ringSize } from '../dsp/lagrange.ts';
import { PI, exp } from '../dsp/portableMath.ts';
import { constant, type Ramp } from '../dsp/ramp.ts';
import { BLOCK_FRAMES, defineLiveStage, type LiveContext } from './contract.ts';
import { choice, degrees, frequency, rate, ratio, time, toggle } from './params.ts';

const LONGEST = 0.05; // seconds, least delay and depth together
const AHEAD = constant(1);

export const flanger = defineLiveStage({
  kind: 'flanger',
  family: 'motion',
  title: 'Flanger',
  summary: 'Adds the sound to itself a moving moment later: notches sweep through it like a passing jet.',
  keywords: ['jet', 'sweep', 'comb', 'whoosh', 'notch', 'tape', 'cancellation', 'swirl', 'transition'],
  mixLaw: 'linear',
  widens: true,
  params: {
    least: time({
      default: 0.0008,
      min: 0,
      max: 0.02,
      curve: 'linear',
      doc: 'The shortest delay. Longer moves all notches down and closer together: from a whistle to a hollow pipe.',
    }),
    depth: time({
      default: 0.003,
      min: 0,
      max: 0.02,
      curve: 'linear',
      doc: 'How much longer the delay becomes at the far end of its way. More sweeps wider.',
    }),
    rate: rate({
      default: { beats: 8 },
      min: 0.01,
      max: 10,
      doc: 'How fast the delay goes there and back. Slow it is a wave passing over, fast it warbles.',
    }),
    shape: choice(['sine', 'triangle'], {
      default: 'sine',
      doc: 'How the delay moves: lingering at both ends, or at the same speed throughout.',
    }),
    phase: degrees({
      default: 90,
      min: 0,
      max: 180,
      doc: 'How far the right side lags the left. More is wider; at 0° both sweep as one.',
    }),
    feedback: ratio({
      default: 0.4,
      min: -0.98,
      max: 0.98,
      doc: 'How much of the delayed sound goes round again: sharper and more metallic. Below zero it goes round upside down, which moves the peaks to where the notches were.',
    }),
    crossfed: ratio({
      default: 0,
      doc: 'How much of what goes round changes sides on its way. More swirls between the speakers.',
    }),
    damping: frequency({
      default: 12000,
      min: 500,
      max: 20000,
      doc: 'What lies above is lost each time round. Higher is brighter, lower sounds like tape.',
    }),
    dry: ratio({ default: 0.7, doc: 'Level of the sound as it was. The notches are deepest when it equals the wet.' }),
    wet: ratio({
      default: 0.7,
      min: -1,
      max: 1,
      doc: 'Level of the delayed sound. Below zero it is upside down: the lowest notch goes to 0 Hz, and the bass thins out.',
    }),
    throughZero: toggle({
      default: false,
      doc: 'Delays the dry sound to the middle of the way, so that the wet one overtakes it: there they meet and, upside down, cancel altogether.',
    }),
  },
  tailSeconds: ({ least, depth, feedback }) => {
    const loop = least + depth + 0.0005;
    const lost = Math.max(0.02, 1 - Math.abs(feedback));
    return loop * (1 + 7 / lost);
  },
  create: (context) => new FlangerProcessor(context),
});

interface FlangerValues {
  readonly least: Ramp;
  readonly depth: Ramp;
  readonly rate: Ramp;
  readonly shape: 'sine' | 'triangle';
  readonly phase: Ramp;
  readonly feedback: Ramp;
  readonly crossfed: Ramp;
  readonly damping: Ramp;
  readonly dry: Ramp;
  readonly wet: Ramp;
  readonly throughZero: boolean;
}

/** Seconds in which the dry sound passes over to its delayed self when through-zero is switched. */
const SWITCH_SECONDS = 0.03;

/** As doubles: a whole number among them would make the compiler put each in a box. */
const OFF_ON = Float64Array.of(0, 1);

class FlangerProcessor {
  readonly memoryFrames: number;
  private readonly sampleRate: number;
  private readonly lfo: Lfo;
  private readonly moves = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly memories: Float32Array[];
  private readonly dryMemories: Float32Array[];
  private readonly mask: number;
  private position = 0;
  /** What came out of the loop last, damped, left and right. */
  private readonly loop = new Float64Array(2);
  /** How far the dry sound is the delayed one. */
  private readonly zero = Float64Array.of(NaN);
  private readonly lag = constant(1);
  private readonly least: GlidingDelay;
  private readonly depth: GlidingDelay;
  private damped = NaN;
  private pass = NaN;
  private passGoal = 0;

  constructor({ sampleRate, random }: LiveContext) {
    this.sampleRate = sampleRate;
    this.memoryFrames = LONGEST * sampleRate;
    this.lfo = new Lfo(sampleRate, random);
    this.least = new GlidingDelay(sampleRate, BLOCK_FRAMES);
    this.depth = new GlidingDelay(sampleRate, BLOCK_FRAMES);
    const size = ringSize(Math.ceil(LONGEST * sampleRate) + 8);
    this.memories = [new Float32Array(size), new Float32Array(size)];
    this.dryMemories = [new Float32Array(size), new Float32Array(size)];
    this.mask = size - 1;
  }

  reset(): void {
    for (let side = 0; side < 2; side++) {
      this.memories[side].fill(0);
      this.dryMemories[side].fill(0);
    }
    this.loop.fill(0);
    this.lfo.reset();
    this.position = 0;
    this.zero[0] = NaN;
    this.least.reset();
    this.depth.reset();
    this.damped = NaN;
    this.pass = NaN;
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: FlangerValues,
  ): void {
    const { lfo, lag, moves, sampleRate, mask } = this;
    lag.start = 1 - values.phase.start / 360;
    lag.end = 1 - values.phase.end / 360;
    lfo.read(moves[0], frames, values.shape, values.rate, AHEAD);
    lfo.read(moves[1], frames, values.shape, values.rate, lag);
    lfo.advance(frames, values.rate);
    const part = 1 / frames;
    const { least: leastNow, depth: depthNow } = this;
    leastNow.advance(values.least.end * sampleRate, frames);
    depthNow.advance(values.depth.end * sampleRate, frames);
    const leastStep = (leastNow.end - leastNow.start) * part;
    const depthStep = (depthNow.end - depthNow.start) * part;
    const feedbackStep = (values.feedback.end - values.feedback.start) * part;
    const crossStep = (values.crossfed.end - values.crossfed.start) * part;
    const dryStep = (values.dry.end - values.dry.start) * part;
    const wetStep = (values.wet.end - values.wet.start) * part;
    if (values.damping.end !== this.damped) {
      this.damped = values.damping.end;
      this.passGoal = 1 - exp((-2 * PI * Math.min(this.damped, 0.45 * sampleRate)) / sampleRate);
      if (Number.isNaN(this.pass)) this.pass = this.passGoal;
    }
    let pass = this.pass;
    const passStep = (this.passGoal - pass) * part;
    this.pass = this.passGoal;
    const goal = OFF_ON[values.throughZero ? 1 : 0];
    const reach = 1 / (SWITCH_SECONDS * sampleRate);
    let least = leastNow.start;
    let depth = depthNow.start;
    let feedback = values.feedback.start;
    let cross = values.crossfed.start;
    let dry = values.dry.start;
    let wet = values.wet.start;
    if (Number.isNaN(this.zero[0])) this.zero[0] = goal;
    let zero = this.zero[0];
    let loopLeft = this.loop[0];
    let loopRight = this.loop[1];
    const left = input[0];
    const right = input[input.length - 1];
    const memoryLeft = this.memories[0];
    const memoryRight = this.memories[1];
    const dryLeft = this.dryMemories[0];
    const dryRight = this.dryMemories[1];
    const moveLeft = moves[0];
    const moveRight = moves[1];
    const start = this.position;
    const turn = mask + 1;
    for (let i = 0; i < frames; i++) {
      const at = start + i;
      const fedLeft = feedback * (loopLeft + cross * (loopRight - loopLeft));
      const fedRight = feedback * (loopRight + cross * (loopLeft - loopRight));
      memoryLeft[at & mask] = left[i] + fedLeft;
      memoryRight[at & mask] = right[i] + fedRight;
      dryLeft[at & mask] = left[i];
      dryRight[at & mask] = right[i];
      // Two frames late, so that the cubic always has a sample on its far side; the dry sound is as late. `readCubic` is
      // written out here: called in so long a loop, its result would be put in a box.
      const placeLeft = at + turn - 2 - least - depth * moveLeft[i];
      const l = placeLeft | 0;
      const tl = placeLeft - l;
      const l0 = memoryLeft[(l - 1) & mask];
      const l1 = memoryLeft[l & mask];
      const l2 = memoryLeft[(l + 1) & mask];
      const l3 = memoryLeft[(l + 2) & mask];
      const wetLeft =
        ((((l3 - l0) * (1 / 6) + (l1 - l2) * 0.5) * tl + (l0 + l2) * 0.5 - l1) * tl +
          (l2 - l0 * (1 / 3) - l1 * 0.5 - l3 * (1 / 6))) *
          tl +
        l1;
      const placeRight = at + turn - 2 - least - depth * moveRight[i];
      const r = placeRight | 0;
      const tr = placeRight - r;
      const r0 = memoryRight[(r - 1) & mask];
      const r1 = memoryRight[r & mask];
      const r2 = memoryRight[(r + 1) & mask];
      const r3 = memoryRight[(r + 2) & mask];
      const wetRight =
        ((((r3 - r0) * (1 / 6) + (r1 - r2) * 0.5) * tr + (r0 + r2) * 0.5 - r1) * tr +
          (r2 - r0 * (1 / 3) - r1 * 0.5 - r3 * (1 / 6))) *
          tr +
        r1;
      loopLeft += pass * (wetLeft - loopLeft);
      loopRight += pass * (wetRight - loopRight);
      if (zero < goal) zero = Math.min(goal, zero + reach);
      else if (zero > goal) zero = Math.max(goal, zero - reach);
      // The middle of the way, between whole frames in a straight line.
      const middle = at + turn - 2 - least - 0.5 * depth;
      const m = middle | 0;
      const tm = middle - m;
      const nearLeft = dryLeft[(at - 2 + turn) & mask];
      const nearRight = dryRight[(at - 2 + turn) & mask];
      const farLeft = dryLeft[m & mask] + tm * (dryLeft[(m + 1) & mask] - dryLeft[m & mask]);
      const farRight = dryRight[m & mask] + tm * (dryRight[(m + 1) & mask] - dryRight[m & mask]);
      const heardLeft = nearLeft + zero * (farLeft - nearLeft);
      const heardRight = nearRight + zero * (farRight - nearRight);
      output[0][i] = dry * heardLeft + wet * wetLeft;
      output[1][i] = dry * heardRight + wet * wetRight;
      pass += passStep;
      least += leastStep;
      depth += depthStep;
      feedback += feedbackStep;
      cross += crossStep;
      dry += dryStep;
      wet += wetStep;
    }
    this.loop[0] = loopLeft;
    this.loop[1] = loopRight;
    this.zero[0] = zero;
    this.position = (start + frames) & mask;
  }
}
