/** Curves over time. */
import { TAU, gainToDecibels, sin } from '../dsp/portableMath.ts';
import { type StageDocument } from '../chain/schema.ts';
import { stopSpeed } from '../stages/builtin/grain/tapeStop.ts';
import { stageOf } from '../stages/builtin/index.ts';
import { resolveTime } from '../timing/tempo.ts';
import { type Timing } from '../timing/tempo.ts';
import type { LiveStage, ResolvedValues } from '../stages/contract.ts';
import type { Params } from '../params/params.ts';
import type { StagePicture } from './model.ts';
import type { Numbers, Words } from './values.ts';
import { runStage } from './response.ts';
import { RATE, axis } from './values.ts';

export function speedPicture(values: Numbers & Words, timing: Timing): StagePicture {
  const { wait, time: length, curve, hold, startUp } = values as Numbers;
  const before = Math.min(wait, length);
  const again = values['after'] === 'it starts up again';
  const end = length + (again ? hold + startUp : 0.25 * length);
  const points: number[] = [-before, 1, 0, 1];
  for (let n = 1; n <= 60; n++) points.push((length * n) / 60, stopSpeed(n / 60, curve));
  if (again) {
    points.push(length + hold, 0);
    for (let n = 1; n <= 20; n++) points.push(length + hold + (startUp * n) / 20, stopSpeed(1 - n / 20, curve));
  }
  points.push(end + 0.2 * length, again ? 1 : 0);
  const beat = resolveTime({ beats: 1 }, timing, RATE);
  const ticks: number[] = [];
  for (let t = Math.ceil(-before / beat) * beat; t <= end + 0.2 * length && ticks.length < 16; t += beat)
    ticks.push(Math.abs(t) < 1e-9 ? 0 : t);
  return {
    type: 'curves',
    title: 'Speed of the tape, from the moment it stops; lines are beats',
    x: axis('time', 's', -before, end + 0.2 * length, ticks),
    y: axis('speed', '', 0, 1.1, [0, 0.5, 1]),
    curves: [{ label: 'speed', points }],
    handles: [],
  };
}

const LONGEST_DECAY = 6;

/** How the energy that is still to come falls (M. R. Schroeder, 1965), measured on an impulse. */
export function decayPicture(values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
  const definition = stageOf(stage.kind) as LiveStage;
  const seconds = Math.min(LONGEST_DECAY, 1.25 * (values['decay'] as number) + 0.1);
  const out = runStage(definition, values, Math.ceil(seconds * RATE), RATE, (samples) => (samples[0] = 1));
  const energies: number[] = [];
  const span = Math.max(1, Math.floor(out.length / 200));
  let sum = 0;
  for (let at = out.length - 1; at >= 0; at--) {
    sum += out[at] * out[at];
    if (at % span === 0) energies.push(sum);
  }
  energies.reverse();
  const points = energies.flatMap((energy, n) => [
    (n * span) / RATE,
    Math.max(-75, 0.5 * gainToDecibels(Math.max(1e-12, energy / (energies[0] || 1)))),
  ]);
  const ticks = Array.from({ length: 7 }, (_, n) => Number(((seconds * n) / 6).toPrecision(2)));
  return {
    type: 'curves',
    title: 'How it dies away',
    x: axis('time', 's', 0, seconds, ticks),
    y: axis('level', 'dB', -72, 3, [-60, -48, -36, -24, -12, 0]),
    curves: [{ label: 'decay', points }],
    handles: [],
  };
}

/** Two turns of a movement of the level. */
export function movementPicture(values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
  const definition = stageOf(stage.kind) as LiveStage;
  const rate = values['rate'] as number;
  // As fast as is quick to run; the time axis is its own.
  const out = runStage(definition, { ...values, rate: 4 }, RATE / 2, RATE, (samples) => samples.fill(1));
  const points: number[] = [];
  for (let i = 0; i < out.length; i += 120) points.push((i / RATE) * (4 / rate), out[i]);
  const seconds = 2 / rate;
  return {
    type: 'curves',
    title: 'Level over two turns',
    x: axis(
      'time',
      's',
      0,
      seconds,
      [0, 0.25, 0.5, 0.75, 1].map((share) => Number((share * seconds).toPrecision(2))),
    ),
    y: axis('level', '', 0, 1.05, [0, 0.5, 1]),
    curves: [{ label: 'level', points }],
    handles: [],
  };
}

/** How far the pitch is bent over two turns. */
export function vibratoPicture({ rate, depth }: Numbers): StagePicture {
  const points: number[] = [];
  const seconds = 2 / rate;
  for (let n = 0; n <= 160; n++) points.push((seconds * n) / 160, depth * sin((TAU * 2 * n) / 160));
  return {
    type: 'curves',
    title: 'Pitch over two turns',
    x: axis(
      'time',
      's',
      0,
      seconds,
      [0, 0.25, 0.5, 0.75, 1].map((share) => Number((share * seconds).toPrecision(2))),
    ),
    y: axis('pitch', 'cents', -200, 200, [-200, -100, 0, 100, 200]),
    curves: [{ label: 'left', points }],
    handles: [],
  };
}

/** What the sound is multiplied with, over two turns of the tone. */
export function tonePicture(values: Numbers & Words): StagePicture {
  const { carrier, depth, offset } = values as Numbers;
  const wave = (turn: number) => {
    const part = turn - Math.floor(turn);
    switch (values['shape']) {
      case 'triangle':
        return 1 - 4 * Math.abs(((part + 0.25) % 1) - 0.5);
      case 'square':
        return part < 0.5 ? 1 : -1;
      case 'saw':
        return 2 * part - 1;
      default:
        return sin(TAU * part);
    }
  };
  const seconds = 2 / carrier;
  const points: number[] = [];
  for (let n = 0; n <= 200; n++)
    points.push((seconds * n) / 200, 1 - depth + depth * (offset + (1 - offset) * wave(n / 100)));
  return {
    type: 'curves',
    title: 'What the sound is multiplied with, over two turns',
    x: axis(
      'time',
      's',
      0,
      seconds,
      [0, 0.5, 1].map((share) => Number((share * seconds).toPrecision(3))),
    ),
    y: axis('factor', '', -1.1, 1.1, [-1, 0, 1]),
    curves: [{ label: 'tone', points }],
    handles: [],
  };
}

/** Which moment of the sound is heard when, over two windows. */
export function windowPicture(values: Numbers & Words, timing: Timing): StagePicture {
  const { window } = values as Numbers;
  const factor = { half: 1 / 2, third: 1 / 3, double: 2 }[values['speed']] ?? 1;
  const points: number[] = [];
  for (const n of [0, 1]) {
    const from = factor > 1 ? (n - 1) * window : n * window;
    points.push(n * window, Math.max(0, from), (n + 1) * window * 0.9999, Math.max(0, from + factor * window));
  }
  const beat = resolveTime({ beats: 1 }, timing, RATE);
  const ticks = Array.from({ length: Math.min(17, Math.round((2 * window) / beat) + 1) }, (_, n) => n * beat);
  return {
    type: 'curves',
    title: 'Which moment of the sound is heard when; lines are beats',
    x: axis('heard at', 's', 0, 2 * window, ticks),
    y: axis('moment', 's', 0, 2 * window, [0, window, 2 * window]),
    curves: [
      { label: 'heard', points },
      { label: 'unchanged', points: [0, 0, 2 * window, 2 * window], faint: true },
    ],
    handles: [],
  };
}
