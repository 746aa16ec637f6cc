import { LevelFollower } from '../../dsp/levelFollower.ts';
import { decibelsToGain, exp } from '../../dsp/portableMath.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { choice, level, notes, rate, ratio, time } from '../../params/params.ts';
import { NoteRow } from '../noteRow.ts';
import { CONTROL_FRAMES, defineModulator } from './contract.ts';
import { PhaseAccumulator } from './phaseAccumulator.ts';
import { words } from '../../model/words.ts';

const BY = ['start', 'time', 'attacks', 'notes'] as const;
/**
 * An attack is where the level runs ahead of what it usually is, as in the pickers of first arrivals (R. Allen, "Automatic
 * earthquake recognition and timing from single traces", 1978): so a note that is struck while the last one still sounds
 * is found too. Seconds in which the level and its usual height rise and fall; the level bridges the periods of a bass.
 */
const LEVEL = { rise: 0.001, fall: 0.03 };
const USUAL = { rise: 0.08, fall: 0.015 };
/** How far ahead it has to be, and how near again before there can be another attack. */
const AHEAD = 1.6;
const CAUGHT_UP = 1.15;
/** Seconds between two attacks at least. */
const APART = 0.05;
/** A decay counts as done, but for a fiftieth, when its time is over. */
const STEEPNESS = 3.912;

const REST = 0;
const ATTACK = 1;
const DECAY = 2;
const RELEASE = 3;

export const trigger = defineModulator({
  kind: 'trigger',
  title: 'ADSR envelope',
  summary: 'Rises and falls once each time it is triggered: at the start, at a rate, by transients or by notes.',
  keywords: words(
    'adsr, attack, decay, sustain, release, hit, onset, pluck, pulse, triggered envelope, one-shot, transient, gate, detect, strike, midi',
  ),
  polarity: 'up',
  turnsBy: 'every',
  params: {
    by: choice(BY, {
      label: 'trigger source',
      shown: { time: 'rate', attacks: 'transients' },
      default: 'attacks',
      doc: 'What triggers it: the start of the sound, a rate, transients, or notes, which also say how long it is held.',
    }),
    notes: notes({
      heard: ({ by }) => by === 'notes',
      doc: 'The notes that trigger it, in beats from the start of the sound.',
    }),
    every: rate({
      label: 'trigger rate',
      default: { note: '1/4' },
      min: 0.02,
      max: 40,
      doc: 'How often it is triggered by a rate.',
    }),
    threshold: level({
      label: 'transient threshold',
      unit: 'dBFS',
      default: -24,
      min: -60,
      max: 0,
      doc: 'The level that a transient has to pass.',
    }),
    attack: time({ default: 0.01, min: 0.002, max: 10, doc: 'How long it takes to rise.' }),
    decay: time({ default: 0.2, min: 0.005, max: 20, doc: 'How long it takes to fall to the sustain.' }),
    sustain: ratio({ default: 0, doc: 'Where it stays while the gate is open.' }),
    gate: time({
      label: 'gate time',
      default: 0.1,
      min: 0.001,
      max: 60,
      doc: 'How long it is held, from the trigger on. Notes bring their own length, which counts instead.',
    }),
    release: time({
      default: 0.3,
      min: 0.005,
      max: 20,
      doc: 'How long it takes to fall to rest when the gate closes.',
    }),
  },
  hears: ({ by }) => by === 'attacks',
  create({ sampleRate, moves }, settings) {
    const output = new Float64Array(2);
    const by = settings.by;
    const row = new NoteRow(settings.notes, sampleRate);
    const turns = new PhaseAccumulator(sampleRate, moves('every'));
    const follower = new LevelFollower(sampleRate);
    const levels = new Float64Array(CONTROL_FRAMES);
    const up = 1 - exp(-1 / (USUAL.rise * sampleRate));
    const down = 1 - exp(-1 / (USUAL.fall * sampleRate));
    const part = [new Float32Array(CONTROL_FRAMES), new Float32Array(CONTROL_FRAMES)];
    // Of the segment: which, the value it began with, seconds since; and seconds until the gate closes.
    const fresh = { first: true };
    const state = { segment: REST, from: 0, since: 0, gate: 0, armed: true, quiet: APART, usual: 0 };
    const value = (v: { attack: number; decay: number; sustain: number; release: number }): number => {
      const { segment, from, since } = state;
      if (segment === ATTACK) return from + (1 - from) * smoothStep(since / v.attack);
      if (segment === DECAY) return v.sustain + (from - v.sustain) * exp((-STEEPNESS * since) / v.decay);
      if (segment === RELEASE) return from * exp((-STEEPNESS * since) / v.release);
      return 0;
    };
    const now = { attack: 0, decay: 0, sustain: 0, release: 0, gate: 0 };
    const begin = (segment: number) => {
      state.from = value(now);
      state.segment = segment;
      state.since = 0;
    };
    const setOff = () => {
      begin(ATTACK);
      state.gate = now.gate;
    };
    /** Lets time pass with nothing setting it off. */
    const pass = (seconds: number) => {
      let left = seconds;
      // A gate that closes and an attack that is over are the two things that can happen on the way.
      for (let n = 0; n < 3 && left > 0; n++) {
        const held = state.segment === ATTACK || state.segment === DECAY;
        const toGate = held ? Math.max(0, state.gate) : Infinity;
        const toPeak = state.segment === ATTACK ? Math.max(0, now.attack - state.since) : Infinity;
        const step = Math.min(left, toGate, toPeak);
        state.since += step;
        state.gate -= step;
        left -= step;
        if (toPeak <= step && state.segment === ATTACK) begin(DECAY);
        else if (toGate <= step && held) begin(RELEASE);
      }
    };
    /** Frame at which something louder than the threshold begins; `frames` when nothing does. */
    const attackIn = (input: readonly Float32Array[], at: number, frames: number, threshold: number): number => {
      for (let c = 0; c < 2; c++) {
        const from = input[c < input.length ? c : input.length - 1];
        for (let i = 0; i < frames; i++) part[c][i] = from === undefined ? 0 : from[at + i];
      }
      follower.process(part, levels, frames, LEVEL.rise, LEVEL.fall);
      let found = frames;
      for (let i = 0; i < frames; i++) {
        state.quiet += 1 / sampleRate;
        state.usual += (levels[i] < state.usual ? down : up) * (levels[i] - state.usual);
        if (levels[i] < CAUGHT_UP * state.usual) state.armed = true;
        if (!state.armed || levels[i] < threshold || levels[i] < AHEAD * state.usual) continue;
        if (state.quiet < APART || found < frames) continue;
        state.armed = false;
        state.quiet = 0;
        found = i;
      }
      return found;
    };
    return {
      output,
      turns,
      start(position, values) {
        turns.start(position, values.every);
        follower.reset();
        state.usual = 0;
        fresh.first = true;
        state.segment = REST;
        state.from = 0;
        state.since = 0;
        state.gate = 0;
        state.armed = true;
        state.quiet = APART;
        output.fill(0);
      },
      advance(input, at, frames, position, values) {
        now.attack = values.attack.end;
        now.decay = values.decay.end;
        now.sustain = values.sustain.end;
        now.release = values.release.end;
        now.gate = values.gate.end;
        let frame = frames;
        if (by === 'attacks') frame = attackIn(input, at, frames, decibelsToGain(values.threshold.end));
        else if (by === 'notes') {
          const next = row.lastAt(position + frames - 1);
          const begins = next < 0 ? -1 : row.startOf(next) - position;
          if (begins >= 0 || (fresh.first && next >= 0 && row.endOf(next) > position)) {
            frame = Math.max(0, begins);
            now.gate = (row.endOf(next) - position - frame) / sampleRate;
          }
        } else if (by === 'start') frame = position <= 0 && position + frames > 0 ? -position : frames;
        else {
          turns.advance(frames, position, values.every);
          const { before } = turns;
          // The first turn that begins in these frames, should it be right at their start.
          const next = Math.ceil(before - 1e-9);
          const share = turns.turns > before ? (next - before) / (turns.turns - before) : 1;
          frame = share < 1 - 1e-9 ? Math.max(0, share * frames) : frames;
        }
        fresh.first = false;
        pass(frame / sampleRate);
        if (frame < frames) {
          setOff();
          pass((frames - frame) / sampleRate);
        }
        output[0] = value(now);
        output[1] = output[0];
      },
    };
  },
});
