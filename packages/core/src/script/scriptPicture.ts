/** What is drawn of a script: what it makes of a click, in time and by frequency, worked out by running it. */
import { decibelsToGain, gainToDecibels } from '../dsp/portableMath.ts';
import type { Axis, CurvePicture } from '../model/picture.ts';
import type { Params } from '../params/params.ts';
import type { LiveStage, ResolvedValues } from '../stages/contract.ts';
import { FREQUENCY_AXIS, responseOf, runStage } from '../stages/drawing/response.ts';

const RATE = 48_000;
const COLUMNS = 320;
/** Seconds that are drawn at the least and at the most. */
const SHORTEST = 0.01;
const LONGEST = 2;
const RANGE = 48;
/** Frames of the response that is measured, at the least; what rings longer is measured over more. */
const SHORTEST_RESPONSE = 16_384;
/** Frames of silence before the click, each in a run of its own: what turns, stands elsewhere in each. */
const MOMENTS = [0, 997, 2503, 4999, 8009, 11_003];
/** Decibels by which clicks at two moments differ where something changes over time. */
const SAME = 0.5;

/** Its frequency response: of one that changes over time the mean, by power, of clicks at several moments. */
export function responsePicture(stage: LiveStage, values: ResolvedValues<Params>): CurvePicture {
  const seconds = ringing(stage, values);
  const frames = [0, 1, 2, 3].map((n) => SHORTEST_RESPONSE << n).find((one) => one >= seconds * RATE)!;
  // What rings long takes its time for each.
  const moments = frames > SHORTEST_RESPONSE ? MOMENTS.slice(0, 3) : MOMENTS;
  const runs = moments.map((moment) => responseOf(clicked(stage, values, moment, frames), RATE));
  const changes = runs.some((run) =>
    run.some((level, n) => n % 2 === 1 && Math.max(level, runs[0][n]) > -RANGE && Math.abs(level - runs[0][n]) > SAME),
  );
  const mean = (n: number) => runs.reduce((sum, run) => sum + decibelsToGain(2 * run[n]), 0) / runs.length;
  const points = changes ? runs[0].map((hertz, n) => (n % 2 === 0 ? hertz : gainToDecibels(mean(n)) / 2)) : runs[0];
  return {
    type: 'curves',
    title: changes
      ? `Frequency response, which changes over time: the mean of ${moments.length} clicks at different moments.`
      : 'Frequency response, measured with a click.',
    x: FREQUENCY_AXIS,
    y: { label: 'level', min: -RANGE, max: 18, scale: 'linear', ticks: [-48, -36, -24, -12, 0, 12], unit: 'dB' },
    curves: [{ label: 'response', points }],
    handles: [],
  };
}

/** Seconds that are drawn: as long as it rings. */
function ringing(stage: LiveStage, values: ResolvedValues<Params>): number {
  const latency = (stage.latencyFrames?.(values, RATE) ?? 0) / RATE;
  return Math.max(SHORTEST, Math.min(LONGEST, 1.1 * stage.tailSeconds(values, []) + latency));
}

/** What a click becomes after so many frames of silence, without what sounds by itself. */
function clicked(stage: LiveStage, values: ResolvedValues<Params>, moment: number, frames: number): Float32Array {
  const made = runStage(stage, values, moment + frames, RATE, (samples) => (samples[moment] = 1));
  const alone = runStage(stage, values, moment + frames, RATE, () => undefined);
  return made.subarray(moment).map((sample, n) => sample - alone[moment + n]);
}

/** What a click becomes, as long as it rings: its lowest and highest sample in each column. */
export function impulsePicture(stage: LiveStage, values: ResolvedValues<Params>): CurvePicture {
  const seconds = ringing(stage, values);
  const frames = Math.ceil(seconds * RATE);
  // Not at the very beginning, where what turns stands at zero.
  const samples = clicked(stage, values, MOMENTS[1], frames);
  const points: number[] = [];
  for (let column = 0; column < COLUMNS; column++) {
    const [from, to] = [column, column + 1].map((n) => Math.floor((n * frames) / COLUMNS));
    let [low, high] = [Infinity, -Infinity];
    for (let n = from; n < Math.max(to, from + 1); n++) {
      low = Math.min(low, samples[n]);
      high = Math.max(high, samples[n]);
    }
    points.push(from / RATE, low, from / RATE, high);
  }
  const most = Math.max(1, ...points.filter((_, n) => n % 2 === 1).map(Math.abs));
  return {
    type: 'curves',
    title: 'What a click becomes.',
    x: timeAxis(seconds),
    y: { label: 'amplitude', min: -most, max: most, scale: 'linear', ticks: [-1, 0, 1], unit: '' },
    curves: [{ label: 'impulse response', points }],
    handles: [],
  };
}

function timeAxis(seconds: number): Axis {
  const step = [0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5].find((one) => seconds / one <= 6) ?? 0.5;
  const ticks = Array.from({ length: Math.floor(seconds / step) + 1 }, (_, n) => Number((n * step).toFixed(3)));
  return { label: 'time', min: 0, max: seconds, scale: 'linear', ticks, unit: 's' };
}
