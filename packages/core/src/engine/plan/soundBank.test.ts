import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { describe, expect, test } from 'vitest';
import { newStage } from '../../chain/edit.ts';
import { emptyChain } from '../../chain/validate.ts';
import { chainOf, renderOf } from '../../testing/chains.ts';
import { noise } from '../../testing/signals.ts';
import { planStages, shapeOf } from './plan.ts';
import { bankOf, soundFault, soundUses } from './soundBank.ts';

const HASH = 'a'.repeat(64);
const harp = { name: 'Wind harp', sha256: HASH, clip: noise(100) };
const convolve = (impulse: object) => chainOf([{ kind: 'convolve', settings: { impulse } }]);

describe('what a chain names is found', () => {
  test('by its content where that is said, else by its name', () => {
    const bank = bankOf([harp]);
    expect(bank({ sound: 'Wind harp' })).toBe(harp);
    expect(bank({ sound: 'renamed since', sha256: HASH })).toBe(harp);
    expect(bank({ sound: 'Wind harp', sha256: 'b'.repeat(64) })).toBeUndefined();
  });

  test('wherever the stage stands', () => {
    const chain = chainOf([
      {
        kind: 'split',
        branches: [{ id: 'a', stages: [{ id: 'in', kind: 'bed', settings: { sound: { sound: 'Rain' } } }] }],
      },
      { kind: 'convolve' },
    ]);
    expect(soundUses(BUILT_INS, chain).map(({ id, label, ref }) => [id, label, ref.sound])).toEqual([
      ['in', 'sound', 'Rain'],
    ]);
  });
});

test('a sound that comes or goes makes another plan, its name alone does not', () => {
  const shape = (impulse: object, there: boolean) =>
    shapeOf(BUILT_INS, planStages(BUILT_INS, convolve(impulse), 48000, there ? bankOf([harp]) : undefined));
  const named = { sound: 'Wind harp', sha256: HASH };
  expect(shape(named, true)).not.toBe(shape(named, false));
  expect(shape(named, true)).toBe(shape({ ...named, sound: 'Harp' }, true));
});

describe('a stage without its sound', () => {
  test('passes dry and says so', () => {
    const source = noise(500, 48000, 2);
    expect(renderOf(convolve({ sound: 'Wind harp' }), source).channels).toEqual(source.channels);
    const fault = (kind: string, settings: object) => {
      const stage = newStage(BUILT_INS, emptyChain(BUILT_INS, 'x'), { kind });
      return soundFault(
        BUILT_INS,
        { ...stage, settings: { ...stage.settings, ...settings } },
        ({ sound }) => sound === 'there',
      );
    };
    expect(fault('convolve', {})).toBe('no impulse response chosen: passes the dry signal');
    expect(fault('convolve', { impulse: { sound: 'gone' } })).toBe(
      'impulse response “gone” is missing: passes the dry signal',
    );
    expect(fault('convolve', { impulse: { sound: 'there' } })).toBeUndefined();
    expect(fault('vocoder', {})).toBeUndefined();
    expect(fault('vocoder', { carrier: 'another sound' })).toContain('no carrier sound chosen');
    expect(fault('ducker', {})).toBeUndefined();
    expect(fault('ducker', { side: { sound: 'gone' } })).toContain('uses its own input');
  });
});
