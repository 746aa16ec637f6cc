import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { expect, test } from 'vitest';
import { chainOf } from '../../testing/chains.ts';
import { noise } from '../../testing/signals.ts';
import { planStages } from './plan.ts';
import type { Planned } from './planned.ts';
import { prepareStage, preparedKey } from './prepare.ts';
import { Section } from '../run/section.ts';

const RATE = 48000;
const loud = noise(9000, 44100, 2, 6);
/** Quieter than the source, so that it leads a stage elsewhere. */
const quiet = { ...loud, channels: loud.channels.map((side) => side.map((x) => 0.03 * x)) };
const bank = () => ({ sha256: 'rain', clip: quiet });
const source = noise(12800, RATE, 2, 2).channels;

function played(stage: Planned): number[] {
  const section = new Section(BUILT_INS, [stage], RATE, 2);
  const heard: number[] = [];
  for (let at = 0; at < 12800; at += 128) {
    section.process(
      source.map((side) => side.slice(at, at + 128)),
      128,
      at,
    );
    heard.push(...section.output[0]);
  }
  return heard;
}

const USERS = [
  ['convolve', { impulse: { sound: 'Rain' } }],
  ['bed', { sound: { sound: 'Rain' } }],
  ['vocoder', { carrier: 'another sound', other: { sound: 'Rain' } }],
  ['ducker', { side: { sound: 'Rain' }, threshold: -20 }],
  ['gate', { side: { sound: 'Rain' }, threshold: -20 }],
  ['compressor', { side: { sound: 'Rain' }, threshold: -20 }],
] as const;

test.each(USERS)('%s: a sound of another rate, brought to its own elsewhere, sounds the same', (kind, settings) => {
  const [planned] = planStages(BUILT_INS, chainOf([{ kind, settings }]), RATE, bank);
  const prepared = structuredClone(prepareStage(BUILT_INS, planned, RATE));
  expect(prepared).toBeDefined();
  const alone = played(planned);
  expect(played({ ...planned, prepared: prepared! })).toEqual(alone);
  expect(alone).not.toEqual(played(planStages(BUILT_INS, chainOf([{ kind, settings }]), RATE)[0]));
});

test.each(USERS)('%s: without its sound there is nothing to work out', (kind, settings) => {
  const [planned] = planStages(BUILT_INS, chainOf([{ kind, settings }]), RATE);
  expect(preparedKey(BUILT_INS, planned, RATE)).toBeUndefined();
  expect(prepareStage(BUILT_INS, planned, RATE)).toBeUndefined();
});
