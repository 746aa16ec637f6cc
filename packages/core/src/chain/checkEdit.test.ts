import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { InputError } from '../model/errors.ts';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { changeStage } from './branches.ts';
import { checkEdit } from './checkEdit.ts';
import { newStage } from './edit.ts';
import { addModulator, firstLane, withLane } from './movement.ts';
import { pinSetting, turnControl } from './panel.ts';
import type { ChainDocument } from './schema.ts';
import { withSetting } from './targets.ts';
import { emptyChain, parseChain } from './validate.ts';

const KINDS = ['echo', 'hall', 'filter', 'split', 'reverse', 'slices', 'tapeStop'];

function chainOf(kinds: readonly string[]): ChainDocument {
  let chain = emptyChain(BUILT_INS, 'Harbour light');
  for (const kind of kinds) chain = { ...chain, stages: [...chain.stages, newStage(BUILT_INS, chain, { kind })] };
  chain = parseChain(BUILT_INS, addModulator(BUILT_INS, chain, 'lfo'));
  const { id } = chain.stages[0];
  const pinned = pinSetting(BUILT_INS, chain, `${id}.level`);
  // Whole-clip stages cannot be moved.
  const live = pinned.stages.find((stage) => BUILT_INS.of(stage).runs === 'live');
  const lane = live && `${live.id}.mix`;
  return parseChain(BUILT_INS, lane ? withLane(pinned, lane, firstLane(BUILT_INS, pinned, lane)) : pinned);
}

/** What a document becomes, or that it is refused and why. */
function outcome(work: () => ChainDocument): unknown {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    return error.message;
  }
}

type Edit = (chain: ChainDocument, n: number) => ChainDocument;
const EDITS: Record<string, Edit> = {
  level: (chain, n) =>
    withSetting(BUILT_INS, chain, `${chain.stages[n % chain.stages.length].id}.level`, (n % 60) - 40),
  'level out of range': (chain, n) =>
    withSetting(BUILT_INS, chain, `${chain.stages[n % chain.stages.length].id}.level`, n),
  'setting that is none': (chain, n) =>
    changeStage(chain, chain.stages[n % chain.stages.length].id, (stage) => ({
      ...stage,
      settings: { ...stage.settings, tide: n },
    })),
  'left out': (chain, n) =>
    changeStage(chain, chain.stages[n % chain.stages.length].id, (stage) => ({ ...stage, settings: {} })),
  'stage more': (chain, n) => ({
    ...chain,
    stages: [newStage(BUILT_INS, chain, { kind: KINDS[n % KINDS.length] }), ...chain.stages],
  }),
  'stage twice': (chain, n) => ({ ...chain, stages: [...chain.stages, chain.stages[n % chain.stages.length]] }),
  'stage less': (chain, n) => ({
    ...chain,
    stages: chain.stages.filter((_, index) => index !== n % chain.stages.length),
  }),
  turned: (chain) => ({ ...chain, stages: [...chain.stages].reverse() }),
  tempo: (chain, n) => ({ ...chain, timing: { ...chain.timing, tempo: n } }),
  control: (chain, n) => turnControl(BUILT_INS, chain, chain.panel[0].id, n),
  name: (chain, n) => ({ ...chain, name: n % 3 === 0 ? '' : `Harbour ${n}` }),
  'lane out of its scale': (chain, n) => ({
    ...chain,
    lanes: chain.lanes.map((lane) => ({
      ...lane,
      curve: { ...lane.curve, points: lane.curve.points.map((point) => ({ ...point, value: point.value + n })) },
    })),
  }),
  'field of another program': (chain, n) => ({ ...chain, 'x-note': n }) as ChainDocument,
  'unknown field': (chain, n) => ({ ...chain, tide: n }) as ChainDocument,
  'too many lanes': (chain) => ({
    ...chain,
    lanes: Array.from({ length: 65 }, () => chain.lanes[0] ?? { target: 'a.b' }),
  }),
};

describe('checking an edit', () => {
  it('gives or refuses what reading the whole document gives or refuses, with the same words', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...KINDS), { minLength: 1, maxLength: 6 }),
        fc.array(fc.tuple(fc.constantFrom(...Object.keys(EDITS)), fc.nat(120)), { minLength: 1, maxLength: 4 }),
        (kinds, edits) => {
          let chain = chainOf(kinds);
          for (const [name, n] of edits) {
            const after = EDITS[name](chain, n);
            const whole = outcome(() => parseChain(BUILT_INS, structuredClone(after)));
            expect(
              outcome(() => checkEdit(BUILT_INS, chain, after)),
              name,
            ).toEqual(whole);
            if (typeof whole === 'object' && (whole as ChainDocument).stages.length > 0)
              chain = checkEdit(BUILT_INS, chain, after);
          }
        },
      ),
      { numRuns: 60, endOnFailure: true },
    );
  });

  it('shares everything that the edit does not touch', () => {
    const before = chainOf(['echo', 'split', 'hall']);
    const [, split, hall] = before.stages;
    const after = checkEdit(BUILT_INS, before, withSetting(BUILT_INS, before, `${hall.id}.decay`, 3));
    expect(after.stages[2].settings['decay']).toBe(3);
    expect(after.stages[0]).toBe(before.stages[0]);
    expect(after.stages[1]).toBe(split);
    for (const key of ['panel', 'modulators', 'lanes', 'routes', 'timing', 'render', 'about', 'head'] as const)
      expect(after[key], key).toBe(before[key]);
  });

  it('gives the document itself where nothing was changed', () => {
    const before = chainOf(['echo']);
    expect(checkEdit(BUILT_INS, before, before)).toBe(before);
  });
});
