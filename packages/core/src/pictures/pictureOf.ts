/** The pictures of the stages, by kind. */
import { exp, gainToDecibels, log, sin, TAU } from '../dsp/portableMath.ts';
import { allStages } from '../chain/branches.ts';
import type { StageDocument } from '../chain/schema.ts';
import type { LiveStage, ResolvedValues } from '../stages/contract.ts';
import { compressorGain } from '../stages/dynamics/compressor.ts';
import { duckerGain } from '../stages/dynamics/ducker.ts';
import { voicePhase, voicePlace, voiceRest } from '../stages/ensemble/voices.ts';
import { EQUALISER_BANDS } from '../stages/equaliser.ts';
import { MOST_STEPS } from '../stages/grain/pattern.ts';
import { stopSpeed } from '../stages/grain/tapeStop.ts';
import { stageOf } from '../stages/index.ts';
import { resolveSetting, type Params } from '../stages/params.ts';
import { eyringTime, meanAbsorption, SURFACES, type RoomShape, type Surface } from '../stages/room/geometry.ts';
import { resolveTime, type Timing } from '../timing/tempo.ts';
import type { Axis, Curve, CurvePicture, Repeat, StagePicture } from './model.ts';
import { FREQUENCY_AXIS, measureResponse, runStage } from './response.ts';

const RATE = 48000;

type Numbers = Readonly<Record<string, number>>;
type Words = Readonly<Record<string, string>>;

const axis = (label: string, unit: string, min: number, max: number, ticks: readonly number[]): Axis => ({
  label,
  unit,
  min,
  max,
  ticks,
  scale: 'linear',
});

/** The values of a stage in their canonical units. */
export function resolvedValues(stage: StageDocument, timing: Timing, sampleRate = RATE): ResolvedValues<Params> {
  const { params } = stageOf(stage.kind);
  return Object.fromEntries(
    Object.entries(params).map(([key, param]) => [key, resolveSetting(param, stage.settings[key], timing, sampleRate)]),
  );
}

/** The picture that belongs to a stage as it is set; undefined when its kind has none. */
export function pictureOf(stage: StageDocument, timing: Timing): StagePicture | undefined {
  const values = resolvedValues(stage, timing);
  return PICTURES[stage.kind]?.(values, stage, timing);
}

/** The kinds of stage that have a picture. */
export const hasPicture = (kind: string): boolean => kind in PICTURES;

type Draw = (values: ResolvedValues<Params>, stage: StageDocument, timing: Timing) => StagePicture;

const PICTURES: Readonly<Record<string, Draw>> = {
  echo: (values, stage, timing) => echoPicture(values as Numbers & Words, stage, timing),
  pitchEcho: (values, _, timing) => pitchEchoPicture(values as Numbers, timing),
  room: (values) => roomPicture(values as never),
  ensemble: (values) => voicesPicture(values as Numbers & Words),
  pattern: (values) => stepsPicture(values as Numbers),
  equaliser: (values, stage) => equaliserPicture(values, stage),
  filter: (values, stage) =>
    responsePicture('Response', stage, [['response', values, 0]], [{ label: 'cutoff', xParam: 'cutoff' }], values),
  flanger: (values, stage) => movingPicture('Notches, at four moments of the movement', values, stage),
  phaser: (values, stage) => movingPicture('Notches, at four moments of the movement', values, stage),
  drive: (values, stage) => transferPicture(values, stage),
  crush: (values, stage) => transferPicture(values, stage),
  compressor: (values) => dynamicsPicture(values as Numbers, 'threshold', compressorLevel),
  ducker: (values) =>
    dynamicsPicture(values as Numbers, 'threshold', (v, at) => at + duckerGain(at, v['threshold'], v['amount'])),
  gate: (values) =>
    dynamicsPicture(values as Numbers, 'threshold', (v, at) => at + (at < v['threshold'] ? v['floor'] : 0)),
  limiter: (values) => dynamicsPicture(values as Numbers, 'ceiling', (v, at) => Math.min(v['ceiling'], at + v['gain'])),
  tapeStop: (values, _, timing) => speedPicture(values as Numbers & Words, timing),
  hall: (values, stage) => decayPicture(values, stage),
  plate: (values, stage) => decayPicture(values, stage),
  tremolo: (values, stage) => movementPicture(values, stage),
};

function compressorLevel(values: Numbers, at: number): number {
  return at + compressorGain(at, values['threshold'], values['ratio'], values['knee']) + values['makeUp'];
}

const MOST_REPEATS = 48;
const QUIETEST_REPEAT = 0.004;

function echoPicture(values: Numbers & Words, stage: StageDocument, timing: Timing): StagePicture {
  const beat = resolveTime({ beats: 1 }, timing, RATE);
  const first = values['time'];
  const second = values['layout'] === 'single' ? first : values['secondTime'];
  // What the stages in the loop transpose by adds up with every pass.
  const inside = (stage.branches ?? []).flatMap((branch) => allStages(branch.stages).map((placed) => placed.stage));
  const step = inside
    .filter(({ kind, on }) => kind === 'transpose' && on)
    .reduce((sum, { settings }) => sum + Number(settings['interval']) + Number(settings['cents']) / 100, 0);
  const repeats: Repeat[] = [];
  const add = (at: number, n: number, pan: number) =>
    repeats.push({
      at,
      level: Math.min(1.5, exp(log(Math.max(1e-6, values['feedback'])) * (n - 1))),
      pan,
      pitch: step * n,
    });
  const apart = values['layout'] === 'single' ? 0 : values['layout'] === 'middle/sides' ? 0.4 : 1;
  for (let n = 1; n <= MOST_REPEATS; n++) {
    if (n > 1 && exp(log(Math.max(1e-6, values['feedback'])) * (n - 1)) < QUIETEST_REPEAT) break;
    if (values['layout'] === 'single') add(n * first, n, 0);
    else if (values['layout'] === 'crossed') {
      // From side to side: each way round takes one time and then the other.
      const pair = Math.floor(n / 2) * (first + second);
      add(pair + (n % 2) * first, n, n % 2 === 1 ? -apart : apart);
      add(pair + (n % 2) * second, n, n % 2 === 1 ? apart : -apart);
    } else {
      add(n * first, n, -apart);
      add(n * second, n, apart);
    }
  }
  return repeatsPicture('Repeats over the beat', repeats, beat, values['ducking'], values['recovery']);
}

function repeatsPicture(
  title: string,
  repeats: readonly Repeat[],
  beat: number,
  ducking: number,
  recovery: number,
): StagePicture {
  const last = Math.max(beat, ...repeats.filter(({ level }) => level > 0.02).map(({ at }) => at));
  const seconds = Math.ceil(Math.min(last * 1.05, 16 * beat) / beat) * beat;
  return {
    type: 'repeats',
    title,
    repeats: repeats.filter(({ at }) => at <= seconds),
    seconds,
    beat,
    ducking,
    recovery,
  };
}

function pitchEchoPicture(values: Numbers, timing: Timing): StagePicture {
  const repeats: Repeat[] = [];
  for (let n = 1; n <= MOST_REPEATS; n++) {
    const level = n === 1 ? 1 : exp(log(Math.max(1e-6, values['feedback'])) * (n - 1));
    if (level < QUIETEST_REPEAT) break;
    repeats.push({ at: n * values['time'], level, pan: 0, pitch: n * (values['interval'] + values['cents'] / 100) });
  }
  return repeatsPicture('Repeats over the beat, by pitch', repeats, resolveTime({ beats: 1 }, timing, RATE), 0, 0);
}

function roomPicture(
  values: RoomShape & Record<'walls' | 'floor' | 'ceiling', Surface> & { ownDecay: boolean; decay: number },
): StagePicture {
  const absorption = meanAbsorption(
    values,
    SURFACES[values.walls][0],
    SURFACES[values.floor][0],
    SURFACES[values.ceiling][0],
  );
  return {
    type: 'room',
    title: 'The room from above',
    length: values.length,
    width: values.width,
    height: values.height,
    source: [values.sourceAlong, values.sourceAcross],
    listener: [values.listenerAlong, values.listenerAcross],
    decay: values.ownDecay ? values.decay : Math.min(20, Math.max(0.1, eyringTime(values, absorption))),
  };
}

function voicesPicture(values: Numbers & Words): StagePicture {
  const count = Math.round(values['voices']);
  return {
    type: 'voices',
    title: 'Delay of every voice',
    voices: Array.from({ length: count }, (_, voice) => ({
      phase: voicePhase(voice, count, values['distribution']),
      rest: voiceRest(voice),
      pan: voicePlace(voice, count) * values['spread'],
    })),
    wave: values['wave'],
    rate: values['rate'],
    depth: values['depth'],
    drift: values['drift'],
  };
}

function stepsPicture(values: Numbers): StagePicture {
  const count = Math.round(values['steps']);
  const params = Array.from({ length: Math.min(MOST_STEPS, count) }, (_, n) => `level${n + 1}`);
  return {
    type: 'steps',
    title: 'Steps',
    levels: params.map((key) => values[key]),
    params,
    swing: values['swing'],
    gate: values['length'],
  };
}

const DECIBELS = axis('level', 'dB', -30, 18, [-24, -12, 0, 12]);

function responsePicture(
  title: string,
  stage: StageDocument,
  moments: readonly (readonly [label: string, values: ResolvedValues<Params>, seconds: number])[],
  handles: readonly { readonly label: string; readonly xParam: string }[],
  values: ResolvedValues<Params>,
): CurvePicture {
  const definition = stageOf(stage.kind) as LiveStage;
  const curves = moments.map(([label, own, seconds], n): Curve => ({
    label,
    points: measureResponse(definition, own, seconds),
    faint: n > 0,
  }));
  return {
    type: 'curves',
    title,
    x: FREQUENCY_AXIS,
    y: DECIBELS,
    curves,
    handles: handles.map(({ label, xParam }) => ({
      label,
      x: values[xParam] as number,
      y: 0,
      xParam,
      yParam: undefined,
    })),
  };
}

function equaliserPicture(values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
  const picture = responsePicture('Response', stage, [['response', values, 0]], [], values);
  const bands = Array.from({ length: EQUALISER_BANDS }, (_, n) => n + 1).filter(
    (band) => values[`type${band}`] !== 'off',
  );
  return {
    ...picture,
    handles: bands.map((band) => {
      const hasGain = ['bell', 'low shelf', 'high shelf'].includes(values[`type${band}`] as string);
      return {
        label: `band ${band}`,
        x: values[`frequency${band}`] as number,
        y: hasGain ? (values[`gain${band}`] as number) : 0,
        xParam: `frequency${band}`,
        yParam: hasGain ? `gain${band}` : undefined,
      };
    }),
  };
}

/** Four moments of a slow movement: its own rate, made to go round once in so many seconds that little has to be run. */
function movingPicture(title: string, values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
  const still = { ...values, rate: 0.5 };
  const moments = [0, 0.25, 0.5, 1].map((seconds): [string, ResolvedValues<Params>, number] => [
    seconds === 0 ? 'at the beginning' : `${seconds / 2} of a turn on`,
    still,
    seconds,
  ]);
  return responsePicture(title, stage, moments, [], values);
}

/** Half a turn of a slow wave, from its lowest to its highest: what goes in against what comes out. */
function transferPicture(values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
  const definition = stageOf(stage.kind) as LiveStage;
  const hertz = 40;
  const turn = RATE / hertz;
  const still =
    stage.kind === 'drive' ? { ...values, oversampling: 'as it is', tone: 20000 } : { ...values, rate: RATE * 4 };
  const out = runStage(definition, still, 4 * turn, RATE, (samples) => {
    for (let i = 0; i < samples.length; i++) samples[i] = -sin((TAU * hertz * (i + turn / 4)) / RATE);
  });
  const points: number[] = [];
  for (let i = 0; i <= turn / 2; i += 3) points.push(-sin((TAU * hertz * (i + turn / 4)) / RATE), out[2 * turn + i]);
  const ticks = [-1, -0.5, 0, 0.5, 1];
  return {
    type: 'curves',
    title: 'What comes out for what goes in',
    x: axis('in', '', -1, 1, ticks),
    y: axis('out', '', -1.1, 1.1, ticks),
    curves: [
      { label: 'transfer', points },
      { label: 'unchanged', points: [-1, -1, 1, 1], faint: true },
    ],
    handles: [],
  };
}

function dynamicsPicture(
  values: Numbers,
  handle: string,
  levelAt: (values: Numbers, level: number) => number,
): StagePicture {
  const points: number[] = [];
  for (let level = -72; level <= 0; level += 0.5) points.push(level, Math.max(-90, levelAt(values, level)));
  const ticks = [-60, -48, -36, -24, -12, 0];
  return {
    type: 'curves',
    title: 'Level out for level in',
    x: axis('in', 'dB', -72, 0, ticks),
    y: axis('out', 'dB', -90, 12, ticks),
    curves: [
      { label: 'curve', points },
      { label: 'unchanged', points: [-72, -72, 0, 0], faint: true },
    ],
    handles: [
      {
        label: handle,
        x: Math.max(-72, values[handle]),
        y: Math.max(-90, levelAt(values, values[handle])),
        xParam: handle,
        yParam: undefined,
      },
    ],
  };
}

function speedPicture(values: Numbers & Words, timing: Timing): StagePicture {
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
function decayPicture(values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
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
function movementPicture(values: ResolvedValues<Params>, stage: StageDocument): StagePicture {
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
