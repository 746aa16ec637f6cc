/** The same four graphs twice: with the core's own primitives and with the browser's native nodes. Seconds each takes. */
import { Biquad } from '../../packages/core/src/dsp/biquad.ts';
import { Convolver, partImpulse } from '../../packages/core/src/dsp/convolver.ts';
import { DelayLine } from '../../packages/core/src/dsp/delayLine.ts';
import { Oversampler } from '../../packages/core/src/dsp/oversampler.ts';
import { createRandom } from '../../packages/core/src/dsp/random.ts';
import { saturate } from '../../packages/core/src/dsp/saturate.ts';
import { SlowOscillator } from '../../packages/core/src/dsp/slowOscillator.ts';

const RATE = 48000;
const SECONDS = 20;
const BLOCK = 128;
const ROUNDS = 5;

const random = createRandom(1);
const noise = (seconds: number, fall = 0) =>
  Float32Array.from({ length: seconds * RATE }, (_, i) => (2 * random() - 1) * Math.exp((-fall * i) / RATE));
const source = [noise(SECONDS), noise(SECONDS)];
const impulse = [noise(2, 3), noise(2, 3)];

type Work = (side: number) => (block: Float64Array) => void;

/** Runs both sides block by block. */
function ours(create: Work): number {
  const began = performance.now();
  const block = new Float64Array(BLOCK);
  for (let side = 0; side < 2; side++) {
    const work = create(side);
    const out = new Float32Array(source[side].length);
    for (let at = 0; at < out.length; at += BLOCK) {
      for (let i = 0; i < BLOCK; i++) block[i] = source[side][at + i];
      work(block);
      for (let i = 0; i < BLOCK; i++) out[at + i] = block[i];
    }
  }
  return (performance.now() - began) / 1000;
}

async function native(build: (context: OfflineAudioContext, input: AudioNode) => AudioNode): Promise<number> {
  const context = new OfflineAudioContext(2, SECONDS * RATE, RATE);
  const buffer = context.createBuffer(2, SECONDS * RATE, RATE);
  source.forEach((side, c) => buffer.copyToChannel(side, c));
  const player = new AudioBufferSourceNode(context, { buffer });
  build(context, player).connect(context.destination);
  player.start();
  const began = performance.now();
  await context.startRendering();
  return (performance.now() - began) / 1000;
}

// Peaking filters after the W3C Audio EQ Cookbook, as the native node has them.
function peaking(frequency: number, q: number, gain: number) {
  const a = 10 ** (gain / 40);
  const w = (2 * Math.PI * frequency) / RATE;
  const alpha = Math.sin(w) / (2 * q);
  const a0 = 1 + alpha / a;
  return {
    b0: (1 + alpha * a) / a0,
    b1: (-2 * Math.cos(w)) / a0,
    b2: (1 - alpha * a) / a0,
    a1: (-2 * Math.cos(w)) / a0,
    a2: (1 - alpha / a) / a0,
  };
}
const FREQUENCIES = [100, 250, 600, 1500, 4000, 9000];

interface Graph {
  readonly name: string;
  readonly ours: Work;
  readonly native: (context: OfflineAudioContext, input: AudioNode) => AudioNode;
}

const GRAPHS: readonly Graph[] = [
  {
    name: 'six biquads in a row',
    ours: () => {
      const filters = FREQUENCIES.map((frequency) => new Biquad(peaking(frequency, 1, 3)));
      return (block) => filters.forEach((filter) => filter.process(block, BLOCK));
    },
    native: (context, input) =>
      FREQUENCIES.reduce<AudioNode>(
        (before, frequency) =>
          before.connect(new BiquadFilterNode(context, { type: 'peaking', frequency, Q: 1, gain: 3 })),
        input,
      ),
  },
  {
    name: 'modulated delay with feedback',
    ours: () => {
      const line = new DelayLine(0.1 * RATE, BLOCK);
      const oscillator = new SlowOscillator(0.7, 0, RATE);
      const wet = new Float64Array(BLOCK);
      const fed = new Float64Array(BLOCK);
      const delayNow = () => RATE * (0.03 + 0.005 * oscillator.value);
      let delay = delayNow();
      return (block) => {
        oscillator.advance(BLOCK);
        const next = delayNow();
        // What comes out lies more than a block back, so it is read before the block is written.
        line.read(wet, BLOCK, delay - BLOCK, next - BLOCK);
        for (let i = 0; i < BLOCK; i++) {
          fed[i] = block[i] + 0.5 * wet[i];
          block[i] = wet[i];
        }
        line.write(fed, BLOCK);
        delay = next;
      };
    },
    native: (context, input) => {
      const delay = new DelayNode(context, { maxDelayTime: 0.1, delayTime: 0.03 });
      const oscillator = new OscillatorNode(context, { frequency: 0.7 });
      oscillator.connect(new GainNode(context, { gain: 0.005 })).connect(delay.delayTime);
      oscillator.start();
      const feedback = new GainNode(context, { gain: 0.5 });
      input.connect(delay);
      delay.connect(feedback).connect(delay);
      return delay;
    },
  },
  {
    name: 'convolution with a 2 s impulse',
    ours: (side) => {
      const convolver = new Convolver(partImpulse(impulse[side]));
      return (block) => convolver.process(block, block, BLOCK);
    },
    native: (context, input) => {
      const buffer = context.createBuffer(2, impulse[0].length, RATE);
      impulse.forEach((channel, c) => buffer.copyToChannel(channel, c));
      return input.connect(new ConvolverNode(context, { buffer, disableNormalization: true }));
    },
  },
  {
    name: 'waveshaper, four times oversampled',
    ours: () => {
      const oversampler = new Oversampler(4, BLOCK);
      return (block) => {
        oversampler.up(block, BLOCK);
        saturate(oversampler.buffer, 4 * BLOCK, 4);
        oversampler.down(block, BLOCK);
      };
    },
    native: (context, input) => {
      const curve = Float32Array.from({ length: 4097 }, (_, i) => Math.tanh(4 * (i / 2048 - 1)) / 4);
      return input.connect(new WaveShaperNode(context, { curve, oversample: '4x' }));
    },
  },
];

const median = (times: number[]) => times.sort((a, b) => a - b)[Math.floor(times.length / 2)];

/** Medians, the two taken in turn. */
export async function compareGraphs(): Promise<{ name: string; ours: number; native: number }[]> {
  const results = [];
  for (const graph of GRAPHS) {
    const times = { ours: [] as number[], native: [] as number[] };
    ours(graph.ours);
    await native(graph.native);
    for (let round = 0; round < ROUNDS; round++) {
      times.ours.push(ours(graph.ours));
      times.native.push(await native(graph.native));
    }
    results.push({ name: graph.name, ours: median(times.ours) / SECONDS, native: median(times.native) / SECONDS });
  }
  return results;
}

Object.assign(window, { compareGraphs });
