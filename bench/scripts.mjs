// How long scripts take: to be compiled, and to run beside the same written as a stage. Run after a build:
// node bench/scripts.mjs
import { performance } from 'node:perf_hooks';
import { EXAMPLE_TEXTS } from '../packages/core/dist/script/exampleTexts.js';
import { compileScript } from '../packages/core/dist/script/compileScript.js';
import { ScriptProcessor } from '../packages/core/dist/script/scriptProcessor.js';
import { createRandom } from '../packages/core/dist/dsp/random.js';
import { sin } from '../packages/core/dist/dsp/portableMath.js';

const RATE = 48_000;
const BLOCK = 128;
const median = (values) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)];
const noise = () => {
  const random = createRandom(3);
  return Float32Array.from({ length: BLOCK }, () => 2 * random() - 1);
};

/** A script of many lines, each of which does something of its own. */
function longScript(lines) {
  const functions = Array.from(
    { length: Math.floor((lines - 12) / 5) },
    (_, n) => `function bend${n}(x) {
  const y = x * ${1 + n / 100} + Math.sin(x * ${n});
  if (y > 1) return 1 - y * ${n / 50};
  return y < -1 ? Math.tanh(y) : y;
}`,
  );
  const calls = functions.map((_, n) => `bend${n}(x)`).join(' + ');
  return `export const language = 1;
export const title = 'Long';
export const family = 'drive';
export const summary = 'Long.';
${functions.join('\n')}
export function channel() {
  return (x, p) => ${calls};
}`;
}

function compileTime(text) {
  const times = Array.from({ length: 25 }, () => {
    const began = performance.now();
    const { form } = compileScript(text, RATE);
    new WebAssembly.Module(form.bytes);
    return performance.now() - began;
  });
  return { first: times[0], median: median(times.slice(1)) };
}

const context = (sides) => ({
  sampleRate: RATE,
  inputChannels: sides,
  outputChannels: sides,
  random: createRandom(1),
  sounds: {},
  prepared: undefined,
  beats: [{ frame: 0, quarter: 0, tempo: 120 }],
  kernels: undefined,
  side: () => undefined,
  branches: [],
});

/**
 * Microseconds of a block of both sides, settings standing, of each; they take turns, so that whatever else the machine does is
 * shared. The last is how many times as long as the second the first takes, round by round.
 */
function costsOf(processes) {
  const input = [noise(), noise()];
  const output = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
  for (const process of processes) for (let n = 0; n < 3000; n++) process(input, output, n * BLOCK);
  const rounds = Array.from({ length: 61 }, () =>
    processes.map((process) => {
      const began = performance.now();
      for (let n = 0; n < 200; n++) process(input, output, n * BLOCK);
      return ((performance.now() - began) * 1000) / 200;
    }),
  );
  const [cost, twin] = processes.map((_, n) => median(rounds.map((round) => round[n])));
  return { cost, twin, times: median(rounds.map(([one, other]) => one / other)) };
}

function scriptProcess(text) {
  const { header, form } = compileScript(text, RATE);
  if (form.form === 'clip') return undefined;
  const { bytes, ...facts } = form;
  const processor = new ScriptProcessor({ bytes, facts }, header.params, context(2));
  const values = Object.fromEntries(
    Object.entries(header.params).map(([key, param]) => {
      const begins = typeof param.default === 'object' ? 0.25 : param.default;
      return [key, typeof begins === 'number' ? { start: begins, end: begins } : begins];
    }),
  );
  return (input, output, position) => processor.process(input, output, BLOCK, values, position);
}

/** The same as stages are written: classes over typed arrays. */
class Line {
  constructor(frames) {
    this.length = 2 ** Math.ceil(Math.log2(frames + 8));
    this.samples = new Float32Array(this.length);
    this.count = 0;
  }
  read(frames) {
    const at = this.count - Math.min(Math.max(frames, 1), this.length - 4);
    const first = Math.floor(at);
    const t = at - first;
    const { samples, length } = this;
    const mask = length - 1;
    const last = this.count - 1;
    return (
      samples[(first - 1) & mask] * ((t * (t - 1) * (t - 2)) / -6) +
      samples[first & mask] * (((t + 1) * (t - 1) * (t - 2)) / 2) +
      samples[Math.min(first + 1, last) & mask] * (((t + 1) * t * (t - 2)) / -2) +
      samples[Math.min(first + 2, last) & mask] * (((t + 1) * t * (t - 1)) / 6)
    );
  }
  write(x) {
    this.samples[this.count & (this.length - 1)] = x;
    this.count++;
  }
}
const TWINS = {
  repeat: () => {
    const lines = [new Line(2 * RATE), new Line(2 * RATE)];
    return (input, output) => {
      for (let c = 0; c < 2; c++)
        for (let i = 0; i < BLOCK; i++) {
          const late = lines[c].read(0.25 * RATE);
          lines[c].write(input[c][i]);
          output[c][i] = input[c][i] + 0.5 * late;
        }
    };
  },
  ringModulator: () => {
    const phases = new Float64Array(2);
    return (input, output) => {
      for (let c = 0; c < 2; c++)
        for (let i = 0; i < BLOCK; i++) {
          const at = phases[c];
          phases[c] += 220 / RATE;
          if (phases[c] >= 1) phases[c] -= 1;
          const x = input[c][i];
          output[c][i] = x + 1 * (x * sin(2 * Math.PI * at) - x);
        }
    };
  },
  darkeningRepeats: () => {
    const lines = [new Line(3 * RATE), new Line(3 * RATE)];
    const low = new Float64Array(2);
    const gain = 1 - Math.exp((-2 * Math.PI * 2500) / RATE);
    return (input, output) => {
      for (let c = 0; c < 2; c++)
        for (let i = 0; i < BLOCK; i++) {
          const late = lines[c].read(0.25 * RATE);
          low[c] += gain * (late - low[c]);
          lines[c].write(input[c][i] + low[c] * 0.6);
          output[c][i] = late;
        }
    };
  },
};

console.log('compile: first, then the median of 24 (ms), with the module');
for (const [name, text] of [...Object.entries(EXAMPLE_TEXTS), ['200 lines', longScript(200)]]) {
  const { first, median: usual } = compileTime(text);
  console.log(
    `  ${name.padEnd(18)} ${String(text.split('\n').length).padStart(4)} lines  ${first.toFixed(1)}  ${usual.toFixed(1)}`,
  );
}
console.log('a block of 128 frames, stereo, settings standing (µs; a block lasts 2667), and of the same as a stage');
for (const [name, text] of Object.entries(EXAMPLE_TEXTS)) {
  const script = scriptProcess(text);
  if (!script) continue;
  const { cost, twin, times } = costsOf(TWINS[name] ? [script, TWINS[name]()] : [script]);
  console.log(
    `  ${name.padEnd(18)} ${cost.toFixed(1)}${twin ? `  ${twin.toFixed(1)}  ${times.toFixed(2)} times` : ''}`,
  );
}

/** Milliseconds to make a script with a line, and to go on with what the line of another text holds, which is full. */
function takingOver(seconds) {
  const make = (share) => {
    const text = `export const language = 1;
export const title = 'Line';
export const family = 'time';
export const summary = 'A line.';
export function channel() {
  const line = delayLine(${seconds});
  return (x, p) => { const late = line.read(${seconds / 2}); line.write(x + ${share} * late); return late; };
}`;
    const { form, header } = compileScript(text, RATE);
    const { bytes, ...facts } = form;
    const prepared = { bytes, facts, module: new WebAssembly.Module(bytes) };
    const context = { sampleRate: RATE, random: createRandom(1), beats: [] };
    return () => new ScriptProcessor(prepared, header.params, context);
  };
  const before = make(0.3)();
  const [input, output] = [noise(), noise()].map((side) => [side, side.slice()]);
  for (let n = 0; n < (2 * seconds * RATE) / BLOCK; n++) before.process(input, output, BLOCK, {}, n * BLOCK);
  const times = Array.from({ length: 9 }, (_, n) => {
    const next = make(0.3 + n / 100);
    const began = performance.now();
    const processor = next();
    const made = performance.now();
    processor.takeOver(before);
    return [made - began, performance.now() - made];
  });
  return [0, 1].map((part) => median(times.map((one) => one[part])).toFixed(2));
}
console.log('another text (ms): made, and what its line holds copied');
for (const seconds of [1, 3, 5]) console.log(`  a line of ${seconds} s   ${takingOver(seconds).join('  ')}`);
