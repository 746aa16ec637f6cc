import { BUILT_INS } from '../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { InputError } from '../model/errors.ts';
import { isScaled } from '../params/params.ts';
import { chainOf } from '../testing/chains.ts';
import { assign, newStage } from './edit.ts';
import { checkName, fillNameTemplate, regionInName } from './nameTemplate.ts';
import { emptyChain, parseChain, parseChainText } from './validate.ts';

const base = { format: 'hexenkessel.chain', version: 1, name: 'Test' };
const faultOf = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    expect(error).toBeInstanceOf(InputError);
    return (error as InputError).message;
  }
  throw new Error('nothing was refused');
};

test('defaults are filled in, so a kept chain says all its settings', () => {
  const chain = parseChain(BUILT_INS, {
    ...base,
    stages: [{ id: 'hall', kind: 'hall', settings: { decay: { beats: 8 } } }],
  });
  const hall = BUILT_INS.stages.find(({ kind }) => kind === 'hall');
  expect(Object.keys(chain.stages[0].settings).sort()).toEqual(Object.keys(hall?.params ?? {}).sort());
  expect(chain.stages[0].settings['decay']).toEqual({ beats: 8 });
  expect(parseChain(BUILT_INS, JSON.parse(JSON.stringify(chain)))).toEqual(chain);
});

describe('messages name the stage, the parameter and what is allowed', () => {
  test.each([
    [{ ...base, stages: [{ id: 'a', kind: 'wobble' }] }, ['Stage 1', '"wobble"', 'reverse, echo']],
    [
      { ...base, stages: [{ id: 'hall', kind: 'hall', settings: { decay: 900 } }] },
      ['"hall" (Hall reverb)', 'decay time is 900', '100 ms to 60 s'],
    ],
    [
      { ...base, stages: [{ id: 'h', kind: 'hall', settings: { decay: { beats: 800 } } }] },
      ['decay time is 800 beats', '400 s at 120 bpm', '60 s'],
    ],
    [{ ...base, stages: [{ id: 'h', kind: 'hall', settings: { decay: { note: '1/x' } } }] }, ['decay', 'allowed is']],
    [{ ...base, stages: [{ id: 'h', kind: 'hall', settings: { wetness: 1 } }] }, ['"wetness"', 'decay, size']],
    [
      { ...base, stages: [{ id: 'f', kind: 'filter', settings: { type: 'comb' } }] },
      ['type is "comb"', 'low, band, high, notch'],
    ],
    [{ ...base, stages: [{ id: 'f', kind: 'filter', settings: { cutoff: NaN } }] }, ['cutoff', '20 Hz to 20 kHz']],
    [{ ...base, stages: [{ id: 'f', kind: 'filter', mix: 2 }] }, ['"f" (Filter)', 'mix', 'at most 1']],
    [
      {
        ...base,
        stages: [
          { id: 'f', kind: 'gain' },
          { id: 'f', kind: 'gain' },
        ],
      },
      ['Stage 2', '"f" is used twice'],
    ],
    [{ ...base, stages: [{ id: '../f', kind: 'gain' }] }, ['id', 'starts with a letter']],
    [{ ...base, timing: { tempo: 5 } }, ['timing.tempo', 'at least 20']],
    [{ ...base, name: '../../etc/passwd' }, ['slashes']],
    [{ ...base, render: { name: '{artist}' } }, ['{artist}', '{sound}, {chain}, {version}, {tempo} and {region}']],
    [{ ...base, render: { tail: { mode: 'fixed', length: { bars: 1000 } } } }, ['tail is 2000 s', '600 s']],
    [{ ...base, version: 3 }, ['"version" is 3', 'versions 1 to 2']],
    [{ format: 'other' }, ['"format" is "other"']],
    [
      { ...base, stages: Array.from({ length: 65 }, (_, i) => ({ id: `g${i}`, kind: 'gain' })) },
      ['stages', 'at most 64'],
    ],
    [[], ['not a JSON object']],
    [{ ...base, colour: 'red' }, ['unknown field "colour"']],
  ])('%j', (json, parts) => {
    const message = faultOf(() => parseChain(BUILT_INS, json));
    for (const part of parts) expect(message).toContain(part);
  });

  test('a file that is too large or no JSON', () => {
    expect(faultOf(() => parseChainText(BUILT_INS, `"${'x'.repeat(5_000_000)}"`))).toContain('at most 1048576');
    expect(faultOf(() => parseChainText(BUILT_INS, '{"format":'))).toContain('not JSON');
  });

  test('every fault is listed, not only the first', () => {
    try {
      parseChain(BUILT_INS, { ...base, stages: [{ id: 'h', kind: 'hall', settings: { decay: 900, size: 9 } }] });
    } catch (error) {
      expect((error as InputError).faults).toHaveLength(2);
    }
  });
});

test('whatever JSON comes in is taken or refused in words, never with a crash', () => {
  fc.assert(
    fc.property(
      fc.oneof(
        fc.jsonValue(),
        fc
          .record({ stages: fc.jsonValue(), timing: fc.jsonValue(), render: fc.jsonValue() })
          .map((rest) => ({ ...base, ...rest })),
      ),
      (json) => {
        try {
          parseChain(BUILT_INS, json);
        } catch (error) {
          expect(error).toBeInstanceOf(InputError);
        }
      },
    ),
  );
});

test('every legal value of every parameter is taken', () => {
  for (const stage of BUILT_INS.stages) {
    for (const [key, param] of Object.entries(stage.params)) {
      const values = isScaled(param)
        ? [param.min, param.max, param.default]
        : param.type === 'choice'
          ? param.options
          : param.type === 'sound'
            ? [{ sound: '' }, { sound: 'Wind harp', sha256: '0'.repeat(64) }]
            : param.type === 'curve'
              ? [{ over: 'beats', points: [param.min, param.max].map((value, at) => ({ at, value, bend: -at })) }]
              : param.type === 'list'
                ? [[], [param.min, param.max]]
                : [true, false];
      for (const value of values) {
        expect(chainOf([{ kind: stage.kind, settings: { [key]: value } }]).stages[0].settings[key]).toEqual(value);
      }
    }
  }
});

test('assignments are typed as on a row', () => {
  const chain = chainOf([{ kind: 'hall' }]);
  expect(assign(BUILT_INS, chain, 'hall.decay=4beats').stages[0].settings['decay']).toEqual({ beats: 4 });
  expect(assign(BUILT_INS, chain, 'hall.mix = 50 %').stages[0].mix).toBe(0.5);
  expect(assign(BUILT_INS, chain, 'hall.hold=on').stages[0].settings['hold']).toBe(true);
  expect(faultOf(() => assign(BUILT_INS, chain, 'hall.decay=900s'))).toContain('100 ms to 60 s');
  expect(faultOf(() => assign(BUILT_INS, chain, 'plate.decay=1s'))).toContain(
    'there is no setting "plate.decay"; there are settings of hall',
  );
  expect(faultOf(() => assign(BUILT_INS, chain, 'hall.sparkle=1'))).toContain('hold, mix, level, on');
  expect(faultOf(() => assign(BUILT_INS, chain, 'louder'))).toContain('hall.decay=4beats');
});

test('new stages get ids that are free', () => {
  const chain = chainOf([{ kind: 'hall' }, { kind: 'hall' }]);
  expect(newStage(BUILT_INS, chain, { kind: 'hall' }).id).toBe('hall3');
  expect(newStage(BUILT_INS, emptyChain(BUILT_INS, 'x'), { kind: 'gain' })).toMatchObject({
    id: 'gain',
    on: true,
    mix: 1,
    settings: { gain: 0 },
  });
});

test('names', () => {
  expect(
    fillNameTemplate('{sound} – {chain} @{tempo}', { sound: 'Bell', chain: 'Tide', version: '1', tempo: '93' }),
  ).toBe('Bell – Tide @93');
  // A part does not pass for the whole, whether or not the template names it, and however long the name is.
  const parts = { sound: 'Bell', chain: 'Tide', version: '1', tempo: '93' };
  const region = regionInName({ start: 55_125, end: 63_945 }, 44_100);
  expect(fillNameTemplate('{sound} – {chain}', { ...parts, region })).toBe('Bell – Tide (1.25–1.45 s)');
  expect(fillNameTemplate('{sound} {region}', { ...parts, region })).toBe('Bell 1.25–1.45 s');
  expect(fillNameTemplate('{sound} {region}', parts)).toBe('Bell');
  expect(regionInName({ start: 96_000, end: 96_004 }, 192_000)).toBe('0.5–0.500021 s');
  const long = fillNameTemplate('{sound}', { ...parts, sound: 'x'.repeat(200), region });
  expect([long.length, long.endsWith('x (1.25–1.45 s)')]).toEqual([200, true]);
  for (const bad of ['', '  ', '..', 'a/b', 'a\\b', 'a\u0000b', 'x'.repeat(201)])
    expect(() => checkName(bad)).toThrow(InputError);
});
