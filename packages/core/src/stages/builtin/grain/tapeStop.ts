import { axis } from '../../drawing/axis.ts';
import { beatOf } from '../../drawing/repeats.ts';
import type { StagePicture } from '../../../model/picture.ts';
import type { Timing } from '../../../timing/tempo.ts';
import { smoothStep } from '../../../dsp/smoothStep.ts';
import { Tape } from '../../../dsp/tape.ts';
import { defineLiveStage } from '../../contract.ts';
import { BLOCK_FRAMES } from '../../../model/block.ts';
import { choice, ratio, time, toggle } from '../../../params/params.ts';
import { words } from '../../../model/words.ts';

const LONGEST = 8;
/** Seconds in which it is back at the sound itself. */
const REJOIN_SECONDS = 0.03;

/**
 * How far the tape has gone when a share `u` of the stop is over, as a share of its whole time; its slope is the speed,
 * 1 at the beginning and 0 at the end. `curve` −1: brakes at once; 0: evenly; 1: late.
 */
export function stopPath(u: number, curve: number): number {
  const even = u - 0.5 * u * u;
  const other = curve < 0 ? (1 - (1 - u) * (1 - u) * (1 - u)) / 3 : u - (u * u * u) / 3;
  const share = curve < 0 ? -curve : curve;
  return even + share * (other - even);
}

/** The speed at a share of the stop: the slope of its path. */
export function stopSpeed(u: number, curve: number): number {
  const even = 1 - u;
  const other = curve < 0 ? (1 - u) * (1 - u) : 1 - u * u;
  const share = curve < 0 ? -curve : curve;
  return even + share * (other - even);
}

const PLAYING = 0;
const STOPPING = 1;
const SILENT = 2;
const STARTING = 3;

export const tapeStop = defineLiveStage({
  kind: 'tapeStop',
  family: 'grain',
  title: 'Tape stop',
  summary: 'Slows the sound down until it stands, speed and pitch together, as a tape that is switched off.',
  keywords: words(
    'slow down, brake, power off, vinyl, turntable, stop, spin up, wind down, end, halt, slowing, slowdown, vinyl stop, record stop, turntable brake, spin down, power down, rewind',
  ),
  mixLaw: 'linear',
  grid: 'again',
  params: {
    stop: toggle({
      label: 'stop',
      act: { on: 'stop', off: 'spin up' },
      default: true,
      doc: 'On: it stops, after the delay. Off: it spins up again and rejoins the sound.',
    }),
    wait: time({
      label: 'delay before stop',
      default: { beats: 3 },
      min: 0,
      max: 120,

      doc: 'How long it plays before it stops, from the start of the sound or the moment it is switched on.',
    }),
    time: time({
      label: 'stop time',
      default: { beats: 1 },
      min: 0.02,
      max: LONGEST,
      doc: 'How long the stop takes. It comes to rest exactly at its end.',
    }),
    curve: ratio({
      default: -0.2,
      min: -1,
      doc: 'How it slows down: below zero it brakes hard at the start, above it holds its speed and falls late.',
    }),
    after: choice(['it starts up again', 'it stays silent'], {
      label: 'then',
      shown: { 'it starts up again': 'spin up', 'it stays silent': 'stay silent' },
      default: 'it starts up again',
      doc: 'What happens when it stands.',
    }),
    hold: time({ label: 'pause', default: 0, min: 0, max: 60, doc: 'How long it stands before it spins up again.' }),
    startUp: time({
      label: 'spin-up time',
      default: 0.02,
      min: 0.01,
      max: LONGEST,
      doc: 'How long it takes to come up to speed. Short is at once.',
    }),
    again: time({
      label: 'repeat every',
      default: { bars: 1 },
      min: 0,
      max: 120,

      doc: 'Time from one start to the next: it stops again and again.',
    }),
    declick: time({
      label: 'fade-out',
      default: 0.02,
      min: 0.003,
      max: 0.3,
      doc: 'How softly the last of it fades. Longer takes away more of the lowest growl.',
    }),
  },
  groups: {
    when: ['stop', 'wait', 'again'],
    stop: ['time', 'curve', 'declick'],
    then: ['after', 'hold', 'startUp'],
  },
  picture: ({ values, timing }) => speedPicture(values, timing),
  hearsBeyond: true,
  heldTo: [
    {
      what: 'The tape that has gone by is the integral of the speed',
      limit: ['within', 1, 'sample'],
      how: 'by what is heard of a ramp',
    },
    {
      what: 'Pitch and speed fall together; mono stays mono; clicks at either end lie',
      limit: ['below', -60, 'dB'],
      how: 'by what a tone has above 8 kHz',
    },
  ],
  tailSeconds: ({ time: length }) => length + 0.1,
  create({ sampleRate, inputChannels, outputChannels }, { after }) {
    /** Where the right side goes when there is none. */
    const unheard = new Float32Array(BLOCK_FRAMES);
    const tape = new Tape(2.2 * LONGEST * sampleRate);
    const staysSilent = after === 'it stays silent';
    let mode = PLAYING;
    /** Frame of the tape at which the mode began, and how much of the switch's time it had then. */
    let began = 0;
    /** Where on the timeline it was switched on. */
    let trigger = 0;
    let wasOn = true;
    const rejoin = Math.round(REJOIN_SECONDS * sampleRate);
    return {
      memoryFrames: 3 * LONGEST * sampleRate,
      reset() {
        tape.reset();
        mode = PLAYING;
        began = 0;
        trigger = 0;
        wasOn = true;
      },
      process(input, output, frames, values, position) {
        const from = tape.written;
        tape.write(input[0], input[inputChannels - 1], frames);
        const wait = Math.round(values.wait.end * sampleRate);
        const length = Math.max(8, Math.round(values.time.end * sampleRate));
        const hold = Math.round(values.hold.end * sampleRate);
        const startUp = Math.round(values.startUp.end * sampleRate);
        const again = values.again.end * sampleRate;
        const curve = values.curve.end;
        const declick = Math.min(length, values.declick.end * sampleRate);
        if (values.stop && !wasOn) trigger = position;
        if (!values.stop && wasOn && (mode === STOPPING || mode === SILENT)) {
          mode = STARTING;
          began = from;
        }
        wasOn = values.stop;
        const { left, right, mask } = tape;
        const outLeft = output[0];
        const outRight = outputChannels > 1 ? output[1] : unheard;
        for (let i = 0; i < frames; i++) {
          const now = from + i;
          if (values.stop) {
            const since = position + i - trigger;
            const into =
              again >= 1 && since >= 0 ? since - Math.round(Math.floor((since + 0.5) / again) * again) : since;
            if (into === wait && mode !== STOPPING) {
              mode = STOPPING;
              began = now;
            }
          }
          if (mode === STOPPING && now - began >= length) {
            mode = SILENT;
            began = now;
          }
          if (mode === SILENT && !staysSilent && now - began >= hold) {
            mode = STARTING;
            began = now;
          }
          if (mode === STARTING && now - began >= startUp + rejoin) mode = PLAYING;
          const straight = now & mask;
          if (mode === PLAYING) {
            outLeft[i] = left[straight];
            outRight[i] = right[straight];
            continue;
          }
          if (mode === SILENT) {
            outLeft[i] = 0;
            outRight[i] = 0;
            continue;
          }
          const gone = now - began;
          let place = 0;
          let gain = 1;
          if (mode === STOPPING) {
            place = began + length * stopPath(gone / length, curve);
            const rest = length - gone;
            if (rest < declick) gain = smoothStep(rest / declick);
          } else {
            // Backwards through the same curve: from nothing to full speed, then over to the sound itself.
            const u = gone < startUp ? gone / startUp : 1;
            place =
              began + startUp * (stopPath(1, curve) - stopPath(1 - u, curve)) + (gone > startUp ? gone - startUp : 0);
            gain = smoothStep(gone / Math.min(declick, startUp));
          }
          outLeft[i] = 0;
          outRight[i] = 0;
          tape.add(outLeft, outRight, i, 1, now, place, 1, gain, 0);
          if (mode === STARTING && gone > startUp) {
            const share = smoothStep((gone - startUp) / rejoin);
            outLeft[i] += share * (left[straight] - outLeft[i]);
            outRight[i] += share * (right[straight] - outRight[i]);
          }
        }
      },
    };
  },
});

function speedPicture(
  values: Readonly<Record<'wait' | 'time' | 'curve' | 'hold' | 'startUp', number>> & { readonly after: string },
  timing: Timing,
): StagePicture {
  const { wait, time: length, curve, hold, startUp } = values;
  const before = Math.min(wait, length);
  const again = values.after === 'it starts up again';
  const end = length + (again ? hold + startUp : 0.25 * length);
  const points: number[] = [-before, 1, 0, 1];
  for (let n = 1; n <= 60; n++) points.push((length * n) / 60, stopSpeed(n / 60, curve));
  if (again) {
    points.push(length + hold, 0);
    for (let n = 1; n <= 20; n++) points.push(length + hold + (startUp * n) / 20, stopSpeed(1 - n / 20, curve));
  }
  points.push(end + 0.2 * length, again ? 1 : 0);
  const beat = beatOf(timing);
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
