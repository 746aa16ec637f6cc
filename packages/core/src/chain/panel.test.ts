import { BUILT_INS } from '../catalogue/builtIns.ts';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { chainOf } from '../testing/chains.ts';
import { assign } from './edit.ts';
import { controlAt, controlPlace, controlText, pinSetting, turnControl, unpinSetting } from './panel.ts';
import type { ControlDocument } from './schema.ts';
import { findTarget, withoutDangling } from './targets.ts';
import { underTempo } from './underTempo.ts';
import { morphed, varied } from './variation.ts';

const stages = [
  { kind: 'filter', settings: { cutoff: 1000, type: 'low' } },
  { kind: 'hall', settings: { decay: { beats: 4 } } },
];

/** One control that drives a cutoff in octaves, a decay in beats, a word and a switch. */
const panel = [
  {
    id: 'fog',
    name: 'Fog',
    default: 0,
    value: 0,
    drives: [
      { target: 'filter.cutoff', from: 8000, to: 500 },
      { target: 'hall.decay', from: { note: '1/4' }, to: { bars: 1 } },
      { target: 'filter.type', from: 'low', to: 'notch' },
      { target: 'hall.hold', from: false, to: true },
    ],
  },
];
const valueOf = (chain: ReturnType<typeof chainOf>, target: string) => findTarget(BUILT_INS, chain, target)?.value;

describe('a control', () => {
  test('drives settings along their scales; musical lengths stay musical', () => {
    const chain = chainOf(stages, { panel });
    expect([valueOf(chain, 'filter.cutoff'), valueOf(chain, 'hall.decay')]).toEqual([8000, { note: '1/4' }]);
    const half = turnControl(BUILT_INS, chain, 'fog', 50);
    expect(valueOf(half, 'filter.cutoff')).toBeCloseTo(2000, 2);
    expect(valueOf(half, 'hall.decay')).toEqual({ beats: 2 });
    expect(valueOf(turnControl(BUILT_INS, chain, 'fog', 40), 'hall.hold')).toBe(false);
    expect(valueOf(turnControl(BUILT_INS, chain, 'fog', 60), 'hall.hold')).toBe(true);
    expect(valueOf(turnControl(BUILT_INS, chain, 'fog', 67), 'filter.type')).toBe('high');
    const full = turnControl(BUILT_INS, chain, 'fog', 100);
    expect([valueOf(full, 'filter.cutoff'), valueOf(full, 'hall.decay')]).toEqual([500, { bars: 1 }]);
  });

  test('stands on its steps, within its ends; its number and its place on the way are each other’s inverse', () => {
    const control = chainOf([], { panel: [{ id: 'c', name: 'C', min: -3, max: 9, step: 0.5, default: 0, value: 0 }] })
      .panel[0];
    expect(controlAt(control, 0.33)).toBe(1);
    expect([controlAt(control, -1), controlAt(control, 2)]).toEqual([-3, 9]);
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        (place, bend) => {
          const bent: ControlDocument = { ...control, step: 0, bend };
          expect(controlPlace({ ...bent, value: controlAt(bent, place) })).toBeCloseTo(place, 6);
        },
      ),
    );
  });

  test('written off its steps, it stands on the nearest one, and so does what it drives', () => {
    const chain = chainOf(stages, { panel: [{ ...panel[0], step: 25, value: 40, default: 90 }] });
    expect(chain.panel[0]).toMatchObject({ value: 50, default: 100 });
    expect(valueOf(chain, 'filter.cutoff')).toEqual(
      valueOf(chainOf(stages, { panel: [{ ...panel[0], value: 50 }] }), 'filter.cutoff'),
    );
  });

  test('is read as a number with its unit, or in words', () => {
    const of = (rest: object) =>
      chainOf([], { panel: [{ id: 'c', name: 'C', default: 0, value: 30, ...rest }] }).panel[0];
    expect(controlText(of({}))).toBe('30 %');
    expect(controlText(of({ unit: '', value: 1.234 }))).toBe('1.23');
    expect(
      ['near', 'some way off', 'far'].map((_, n) =>
        controlText(of({ words: ['near', 'some way off', 'far'], value: 50 * n })),
      ),
    ).toEqual(['near', 'some way off', 'far']);
  });

  test('pinned, it stands where the setting stands and leaves it as it was; unpinned it is gone', () => {
    const chain = chainOf(stages);
    const pinned = pinSetting(BUILT_INS, chain, 'filter.cutoff');
    expect(pinned.panel[0]).toMatchObject({
      name: 'Cutoff',
      drives: [{ target: 'filter.cutoff', from: 20, to: 20000 }],
    });
    expect(valueOf(pinned, 'filter.cutoff')).toBe(1000);
    const both = pinSetting(BUILT_INS, pinned, 'hall.decay', pinned.panel[0].id);
    expect(both.panel[0].drives[1]).toMatchObject({ from: { beats: 2 }, to: { beats: 8 } });
    expect(() => pinSetting(BUILT_INS, both, 'hall.decay')).toThrow(
      'Hall reverb, decay time is driven by "Cutoff" already.',
    );
    expect(unpinSetting(unpinSetting(both, 'hall.decay'), 'filter.cutoff').panel).toEqual([]);
  });

  test('is turned in writing by number, unit or word; what it drives is not set behind its back', () => {
    const chain = chainOf(stages, { panel: [{ ...panel[0], words: ['clear', 'hazy', 'thick'] }] });
    expect(assign(BUILT_INS, chain, 'fog=25 %').panel[0].value).toBe(25);
    expect(assign(BUILT_INS, chain, 'Fog = 25').panel[0].value).toBe(25);
    expect(assign(BUILT_INS, chain, 'fog=thick').panel[0].value).toBe(100);
    expect(() => assign(BUILT_INS, chain, 'fog=120')).toThrow(
      '"120" is not allowed for the control "Fog"; allowed is 0 to 100, clear, hazy, thick.',
    );
    expect(() => assign(BUILT_INS, chain, 'hall.decay=2 s')).toThrow(
      'Hall reverb, decay time is driven by the control "Fog"; write fog=clear.',
    );
    expect(valueOf(assign(BUILT_INS, chain, 'hall.on=off'), 'hall.on')).toBe(false);
  });
});

test.each<[string, object, string]>([
  [
    'a route from nowhere',
    { routes: [{ id: 'r', from: 'lfo', to: 'filter.cutoff' }] },
    'Route "r": there is no modulator or control "lfo"; there are none.',
  ],
  [
    'a route to nowhere',
    { modulators: [{ id: 'lfo', kind: 'lfo' }], routes: [{ id: 'r', from: 'lfo', to: 'filter.nothing' }] },
    'there is no setting "filter.nothing"; "filter" (Filter) has type, slope, cutoff,',
  ],
  [
    'a lane of no stage',
    { lanes: [{ target: 'nobody.gain', curve: { points: [{ at: 0, value: 0 }] } }] },
    'there is no setting "nobody.gain"; there are settings of ',
  ],
  [
    'a word that is moved',
    { modulators: [{ id: 'lfo', kind: 'lfo' }], routes: [{ id: 'r', from: 'lfo', to: 'filter.type' }] },
    'Filter, type is fixed during playback and cannot be modulated',
  ],
  [
    'a circle',
    {
      modulators: [
        { id: 'a', kind: 'lfo' },
        { id: 'b', kind: 'lfo' },
      ],
      routes: [
        { id: 'r', from: 'a', to: 'b.rate' },
        { id: 's', from: 'b', to: 'a.rate' },
      ],
    },
    'The modulators "a" → "b" → "a" modulate each other in a loop; remove one route.',
  ],
  [
    'a lane out of range',
    { lanes: [{ target: 'filter.cutoff', curve: { points: [{ at: 0, value: 5 }] } }] },
    'a breakpoint has the value 5; allowed is 20 Hz to 20 kHz',
  ],
  [
    'a driven range out of range',
    { panel: [{ ...panel[0], drives: [{ target: 'filter.cutoff', from: 1, to: 100 }] }] },
    'Control "Fog": Filter, cutoff',
  ],
  [
    'half a musical range',
    { panel: [{ ...panel[0], drives: [{ target: 'hall.decay', from: 1, to: { beats: 4 } }] }] },
    'one end is tempo-synced and the other is not',
  ],
  ['an id twice', { modulators: [{ id: 'filter', kind: 'lfo' }] }, 'The id "filter" is used twice'],
  [
    'a modulator that is none',
    { modulators: [{ id: 'x', kind: 'wobbler' }] },
    'Modulator "x": There is no modulator of kind',
  ],
])('%s is refused in words', (_, rest, message) =>
  expect(() => chainOf(stages, { panel: [], ...rest } as never)).toThrow(message),
);

test('when a stage goes, what named it goes with it', () => {
  const chain = chainOf(stages, {
    panel,
    modulators: [{ id: 'lfo', kind: 'lfo' }],
    routes: [
      { id: 'r', from: 'lfo', to: 'hall.size' },
      { id: 's', from: 'lfo', to: 'filter.resonance' },
    ],
    lanes: [{ target: 'hall.mix', curve: { points: [{ at: 0, value: 1 }] } }],
    locked: ['hall.size', 'filter.drive'],
  });
  const left = withoutDangling(BUILT_INS, { ...chain, stages: chain.stages.slice(0, 1) });
  expect(left.routes.map(({ id }) => id)).toEqual(['s']);
  expect(left.lanes).toEqual([]);
  expect(left.locked).toEqual(['filter.drive']);
  expect(left.panel[0].drives.map(({ target }) => target)).toEqual(['filter.cutoff', 'filter.type']);
  expect(withoutDangling(BUILT_INS, left)).toEqual(left);
});

describe('variation', () => {
  const free = chainOf(stages, { locked: ['filter.resonance'] });
  test('draws within the ranges, the same for a seed, and leaves what is locked', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), fc.double({ min: 0, max: 1, noNaN: true }), (seed, amount) => {
        const drawn = varied(BUILT_INS, free, { amount, seed, over: 'settings' });
        expect(chainOf(drawn.stages as never, { locked: free.locked }).stages).toEqual(drawn.stages);
        expect(valueOf(drawn, 'filter.resonance')).toEqual(valueOf(free, 'filter.resonance'));
        expect(varied(BUILT_INS, free, { amount, seed, over: 'settings' })).toEqual(drawn);
      }),
      { numRuns: 40 },
    );
    expect(varied(BUILT_INS, free, { amount: 0, seed: 3, over: 'settings' }).stages[0]).toEqual(free.stages[0]);
    expect(varied(BUILT_INS, free, { amount: 1, seed: 3, over: 'settings' })).not.toEqual(
      varied(BUILT_INS, free, { amount: 1, seed: 4, over: 'settings' }),
    );
  });

  test('over the panel moves its free controls and what they drive', () => {
    const chain = chainOf(stages, {
      panel: [panel[0], { id: 'kept', name: 'Kept', locked: true, default: 0, value: 33 }],
    });
    const drawn = varied(BUILT_INS, chain, { amount: 1, seed: 7, over: 'panel' });
    expect(drawn.panel[0].value).not.toBe(0);
    expect(drawn.panel[1].value).toBe(33);
    expect(valueOf(drawn, 'filter.cutoff')).not.toBe(8000);
  });

  test('a morph ends at both ends and lies between them', () => {
    const other = chainOf([
      { kind: 'filter', settings: { cutoff: 4000, type: 'low' } },
      { kind: 'hall', settings: { decay: { beats: 16 } }, mix: 0 },
    ]);
    const first = chainOf(stages);
    expect(morphed(BUILT_INS, first, other, 0)).toBe(first);
    expect(morphed(BUILT_INS, first, other, 1)).toBe(other);
    const middle = morphed(BUILT_INS, first, other, 0.5);
    expect(valueOf(middle, 'filter.cutoff')).toBeCloseTo(2000, 2);
    expect(valueOf(middle, 'hall.decay')).toEqual({ beats: 8 });
    expect(valueOf(middle, 'hall.mix')).toBeCloseTo(0.5, 6);
  });
});

test('under another tempo: what is in beats follows, what is in seconds stays, what would go too far is told', () => {
  const chain = chainOf([{ kind: 'hall', settings: { decay: { beats: 30 }, preDelay: 0.02 } }], {
    timing: { tempo: 60 },
  });
  const effects = underTempo(BUILT_INS, chain, 25);
  const of = (label: string) => effects.find((effect) => effect.label === label);
  expect(of('decay time')).toMatchObject({ written: '30 beats', now: 30, then: 72, follows: true, outOfRange: true });
  expect(of('pre-delay')).toMatchObject({ now: 0.02, then: 0.02, follows: false, outOfRange: false });
});
