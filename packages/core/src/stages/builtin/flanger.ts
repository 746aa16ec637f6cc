import { movingPicture } from '../drawing/responsePictures.ts';
import { GlidingDelay } from '../../dsp/glidingDelay.ts';
import { Lfo } from '../../dsp/lfo.ts';
import { readNear, ringSize } from '../../dsp/lagrange.ts';
import { PI, atan2, cos, exp, sin, gainToDecibels } from '../../dsp/portableMath.ts';
import { constant, type Ramp } from '../../model/ramp.ts';
import { defineLiveStage, type LiveContext } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, degrees, frequency, rate, ratio, time, toggle } from '../../params/params.ts';
import { loopInStep } from '../rise.ts';
import { settled } from '../../dsp/settled.ts';
import { words } from '../../model/words.ts';

const MOST_DEPTH = 0.02; // seconds
const LONGEST = 0.05; // seconds, least delay and depth together
const AHEAD = constant(1);

export const flanger = defineLiveStage({
  kind: 'flanger',
  family: 'motion',
  title: 'Flanger',
  summary: 'Adds the sound to itself after a short, moving delay: notches sweep through it like a passing jet.',
  keywords: words(
    'jet, sweep, comb, whoosh, notch, tape, cancellation, swirl, transition, flange, flanging, through-zero, comb filter, swoosh, resonant, plane, delay',
  ),
  mixLaw: 'linear',
  widens: true,
  params: {
    minDelay: time({
      label: 'minimum delay',
      default: 0.0008,
      min: 0,
      max: 0.02,
      curve: 'linear',
      doc: 'The shortest delay. Longer moves all notches down and closer together: from a whistle to a hollow pipe.',
    }),
    depth: time({
      label: 'sweep depth',
      default: 0.003,
      min: 0,
      max: 0.02,
      curve: 'linear',
      doc: 'How far the delay sweeps: maximum delay = minimum delay + depth. More sweeps wider.',
    }),
    rate: rate({
      default: { beats: 8 },
      min: 0.01,
      max: 10,
      doc: 'How fast the delay sweeps up and down. Slow it is a wave passing over, fast it warbles.',
    }),
    shape: choice(['sine', 'triangle'], {
      label: 'LFO shape',
      default: 'sine',
      doc: 'How the delay moves: lingering at both ends, or at the same speed throughout.',
    }),
    phase: degrees({
      label: 'stereo phase',
      default: 90,
      min: 0,
      max: 180,
      doc: 'How far the right side lags the left. More is wider; at 0° both sweep as one.',
    }),
    feedback: ratio({
      default: 0.4,
      min: -0.98,
      max: 0.98,
      doc: 'How much of the delayed sound is fed back: sharper and more metallic. Below zero the feedback is polarity-inverted, which moves the peaks to where the notches were.',
    }),
    crossfed: ratio({
      label: 'cross-feedback',
      default: 0,
      doc: 'How much of the feedback crosses to the other channel. More swirls between the speakers.',
    }),
    damping: frequency({
      label: 'feedback high cut',
      default: 12000,
      min: 500,
      max: 20000,
      doc: 'Low-pass in the feedback loop. Higher is brighter, lower sounds like tape.',
    }),
    dry: ratio({
      label: 'dry level',
      default: 0.7,
      doc: 'Level of the input. The notches are deepest when it equals the wet level.',
    }),
    wet: ratio({
      label: 'wet level',
      default: 0.7,
      min: -1,
      max: 1,
      doc: 'Level of the delayed sound. Below zero its polarity is inverted: the lowest notch goes to 0 Hz, and the bass thins out.',
    }),
    throughZero: toggle({
      default: false,
      fixed: true,
      doc: 'Through-zero flanging: the dry sound is delayed to the middle of the sweep, so that the wet one overtakes it. Full cancellation there needs a negative wet level. The latency is then 10 ms.',
    }),
  },
  groups: {
    sweep: ['minDelay', 'depth', 'rate', 'shape', 'phase'],
    feedback: ['feedback', 'crossfed', 'damping'],
    mixing: ['dry', 'wet', 'throughZero'],
  },
  pictureMoves: true,
  picture: ({ stage, values, seconds }) => movingPicture(stage, values, seconds),
  latencyFrames: ({ throughZero }, sampleRate) => (throughZero ? middleOf(sampleRate) : 0),
  heldTo: [
    {
      what: 'Notches lie at (k+½)/τ, with inverted polarity at k/τ, and are deeper than −30 dB at equal dry and wet',
      limit: ['within', 1, '%'],
      how: 'by the response to an impulse',
    },
    { what: 'Peaks at 90 % feedback lie at k/τ', limit: ['within', 1, '%'], how: 'by the response to an impulse' },
    { what: 'The dry sound is not late, but through zero, where the stage says by how much', how: 'on an impulse' },
  ],
  mayRise: {
    by: 'dry and wet together and the feedback',
    most: ({ dry, wet, feedback }) => gainToDecibels(dry + Math.abs(wet) * 10 ** (loopInStep(feedback) / 20)),
  },
  tailSeconds: ({ minDelay, depth, feedback }) => {
    const loop = minDelay + depth + 0.0005;
    const lost = Math.max(0.02, 1 - Math.abs(feedback));
    return loop * (1 + 7 / lost);
  },
  create: (context, { throughZero }) => new FlangerProcessor(context, throughZero),
});

/** Frames by which the dry sound is late when the wet one shall be able to overtake it. */
const middleOf = (sampleRate: number) => Math.ceil((MOST_DEPTH / 2) * sampleRate) + 2;

interface FlangerValues {
  readonly minDelay: Ramp;
  readonly depth: Ramp;
  readonly rate: Ramp;
  readonly shape: 'sine' | 'triangle';
  readonly phase: Ramp;
  readonly feedback: Ramp;
  readonly crossfed: Ramp;
  readonly damping: Ramp;
  readonly dry: Ramp;
  readonly wet: Ramp;
}

/** Where `FlangerProcessor.taps` keeps what was read: what goes round and what is heard, left and right. */
const ROUND_LEFT = 0;
const ROUND_RIGHT = 1;
const HEARD_LEFT = 2;
const HEARD_RIGHT = 3;

class FlangerProcessor {
  readonly memoryFrames: number;
  private readonly sampleRate: number;
  private readonly lfo: Lfo;
  private readonly moves = [new Float64Array(BLOCK_FRAMES), new Float64Array(BLOCK_FRAMES)];
  private readonly memories: Float32Array[];
  private readonly dryMemories: Float32Array[];
  private readonly mask: number;
  private readonly taps = new Float64Array(4);
  private position = 0;
  /** Frames by which the dry sound is late; 0 but through zero. */
  private readonly middle: number;
  /** What came out of the loop last, damped, left and right. */
  private readonly loop = new Float64Array(2);
  /** Frames that the damping takes, left and right: the way round is shorter by them. */
  private readonly taken = Float64Array.of(NaN, NaN);
  private readonly lag = constant(1);
  private readonly minDelay: GlidingDelay;
  private readonly depth: GlidingDelay;
  private damped = NaN;
  private pass = NaN;
  private passGoal = 0;

  constructor({ sampleRate, random }: LiveContext, throughZero: boolean) {
    this.sampleRate = sampleRate;
    this.middle = throughZero ? middleOf(sampleRate) : 0;
    this.memoryFrames = LONGEST * sampleRate;
    this.lfo = new Lfo(sampleRate, random);
    this.minDelay = new GlidingDelay(sampleRate, BLOCK_FRAMES);
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
    this.taken.fill(NaN);
    this.minDelay.reset();
    this.depth.reset();
    this.damped = NaN;
    this.pass = NaN;
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: FlangerValues,
    position: number,
  ): void {
    this.lfo.begin(position, values.rate.start);
    const { lfo, lag, moves, sampleRate, mask, taps, middle, taken } = this;
    lag.start = 1 - values.phase.start / 360;
    lag.end = 1 - values.phase.end / 360;
    lfo.read(moves[0], frames, values.shape, values.rate, AHEAD);
    lfo.read(moves[1], frames, values.shape, values.rate, lag);
    lfo.advance(frames, values.rate);
    const part = 1 / frames;
    const { minDelay: leastNow, depth: depthNow } = this;
    leastNow.advance(values.minDelay.end * sampleRate, frames);
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
    const takenLeftEnd = takenBy(this.passGoal, leastNow.end + depthNow.end * moves[0][frames - 1]);
    const takenRightEnd = takenBy(this.passGoal, leastNow.end + depthNow.end * moves[1][frames - 1]);
    let takenLeft = Number.isNaN(taken[0]) ? takenLeftEnd : taken[0];
    let takenRight = Number.isNaN(taken[1]) ? takenRightEnd : taken[1];
    const takenLeftStep = (takenLeftEnd - takenLeft) * part;
    const takenRightStep = (takenRightEnd - takenRight) * part;
    taken[0] = takenLeftEnd;
    taken[1] = takenRightEnd;
    let least = leastNow.start;
    let depth = depthNow.start;
    let feedback = values.feedback.start;
    let cross = values.crossfed.start;
    let dry = values.dry.start;
    let wet = values.wet.start;
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
    const turn = mask + 1;
    const start = this.position + turn;
    for (let i = 0; i < frames; i++) {
      const at = start + i;
      const delayLeft = least + depth * moveLeft[i];
      const delayRight = least + depth * moveRight[i];
      // What goes round is read before this frame is written, and at least a frame back.
      const roundLeft = delayLeft - takenLeft > 1 ? delayLeft - takenLeft : 1;
      const roundRight = delayRight - takenRight > 1 ? delayRight - takenRight : 1;
      readNear(taps, ROUND_LEFT, memoryLeft, mask, at - roundLeft, at - 1, true);
      readNear(taps, ROUND_RIGHT, memoryRight, mask, at - roundRight, at - 1, true);
      loopLeft += pass * (taps[ROUND_LEFT] - loopLeft);
      loopRight += pass * (taps[ROUND_RIGHT] - loopRight);
      const fedLeft = feedback * (loopLeft + cross * (loopRight - loopLeft));
      const fedRight = feedback * (loopRight + cross * (loopLeft - loopRight));
      memoryLeft[at & mask] = settled(left[i] + fedLeft);
      memoryRight[at & mask] = settled(right[i] + fedRight);
      dryLeft[at & mask] = left[i];
      dryRight[at & mask] = right[i];
      // Through zero the wet sound goes as far before the dry one as behind it, wherever its shortest delay is set.
      const wetLeft = middle === 0 ? delayLeft : middle + depth * (moveLeft[i] - 0.5);
      const wetRight = middle === 0 ? delayRight : middle + depth * (moveRight[i] - 0.5);
      readNear(taps, HEARD_LEFT, memoryLeft, mask, at - wetLeft, at, false);
      readNear(taps, HEARD_RIGHT, memoryRight, mask, at - wetRight, at, false);
      output[0][i] = dry * dryLeft[(at - middle) & mask] + wet * taps[HEARD_LEFT];
      output[1][i] = dry * dryRight[(at - middle) & mask] + wet * taps[HEARD_RIGHT];
      pass += passStep;
      takenLeft += takenLeftStep;
      takenRight += takenRightStep;
      least += leastStep;
      depth += depthStep;
      feedback += feedbackStep;
      cross += crossStep;
      dry += dryStep;
      wet += wetStep;
    }
    this.loop[0] = loopLeft;
    this.loop[1] = loopRight;
    this.position = (start + frames) & mask;
  }
}

/** Phase delay in frames of the damping, a one-pole low pass, at the first peak of a loop of so many frames. */
function takenBy(pass: number, loop: number): number {
  const turn = (2 * PI) / Math.max(2, loop);
  const keep = 1 - pass;
  return atan2(keep * sin(turn), 1 - keep * cos(turn)) / turn;
}
