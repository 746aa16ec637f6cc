/** A stage in a language that only this test knows does all that a built-in one does. */
import { describe, expect, test } from 'vitest';
import { newStage, assign } from '../chain/edit.ts';
import { changeList } from '../chain/branches.ts';
import { setSetting } from '../chain/setSetting.ts';
import { parseChain } from '../chain/validate.ts';
import { varied } from '../chain/variation.ts';
import { LiveEngine } from '../engine/live/liveEngine.ts';
import { finishRender, renderChain } from '../engine/offline/renderer.ts';
import { planStages, shapeOf } from '../engine/plan/plan.ts';
import { clipHead, headOfClip } from '../heads/clip/clip.ts';
import { InputError } from '../model/errors.ts';
import { referenceOf } from '../reference/reference.ts';
import { searchStages } from '../reference/searchStages.ts';
import { sheetOf } from '../sheet/model.ts';
import { STAGES } from '../stages/builtin/index.ts';
import { noise, sine } from '../testing/signals.ts';
import { tableLanguage } from '../testing/tableLanguage.ts';
import { BUILT_INS } from './builtIns.ts';
import { Catalogue } from './catalogue.ts';

const RATE = 48000;
const known = () => new Catalogue({ stages: STAGES, heads: [clipHead], languages: [tableLanguage] });
const catalogue = known();

const document = {
  format: 'hexenkessel.chain',
  version: 2,
  name: 'Crooked',
  stages: [
    { id: 'low', kind: 'filter', settings: { cutoff: 4000 } },
    {
      id: 'both',
      kind: 'split',
      branches: [
        { id: 'a', stages: [{ id: 'bent', kind: 'script', script: 'corner', settings: { push: 2 } }] },
        { id: 'b', stages: [] },
      ],
    },
    { id: 'last', kind: 'script', script: 'half' },
  ],
  scripts: [
    { id: 'corner', language: 'table', text: 'Bent corner\n-0.5 -0.4 0 0.4 0.5' },
    { id: 'half', language: 'table', text: 'Half as loud\n-0.5 0.5' },
  ],
  modulators: [{ id: 'wave', kind: 'lfo' }],
  routes: [{ id: 'r', from: 'wave', to: 'bent.push', depth: 0.1 }],
  render: { tail: { mode: 'none' } },
};
const chain = parseChain(catalogue, document);

test('parsed: defaults are filled in, and it stays as it is', () => {
  expect(chain.stages[2].settings).toEqual({ push: 1 });
  expect(parseChain(catalogue, JSON.parse(JSON.stringify(chain)))).toEqual(chain);
});

describe('refused in words', () => {
  const faultOf = (change: object, by = catalogue) => {
    try {
      parseChain(by, { ...document, ...change });
    } catch (error) {
      expect(error).toBeInstanceOf(InputError);
      return (error as InputError).message;
    }
    throw new Error('nothing was refused');
  };
  const last = (stage: object) => ({ stages: [{ id: 'last', kind: 'script', script: 'half', ...stage }], routes: [] });

  test.each([
    [last({ settings: { push: 9 } }), ['"last" (Half as loud)', 'push is 9', '0 % to 400 %']],
    [last({ settings: { pull: 1 } }), ['no parameter "pull"', 'push']],
    [last({ script: 'quarter' }), ['no script "quarter"', 'corner, half']],
    [{ ...last({}), scripts: [{ id: 'half', language: 'runes', text: '' }] }, ['no language "runes"', 'table']],
    [{ ...last({}), scripts: [{ id: 'half', language: 'table', text: 'x\n1 two' }] }, ['Line 2 is "1 two"']],
    [{ scripts: [...document.scripts, { id: 'low', language: 'table', text: '' }] }, ['"low" is used twice']],
    [
      { ...last({}), scripts: [{ id: 'half', language: 'table', text: `${'ü'.repeat(40_000)}\n-1 1` }] },
      ['"half" has 80005 bytes', '65536'],
    ],
  ])('%#', (change, parts) => {
    const message = faultOf(change);
    for (const part of parts) expect(message).toContain(part);
  });

  test('by a thread that does not know the language', () => {
    expect(faultOf({}, BUILT_INS)).toContain('no language "table" for scripts; there are hexenkessel');
  });
});

test('found by its words, added under its name, explained', () => {
  const own = catalogue.for(chain);
  const [found] = searchStages(own, 'crooked');
  expect(found.title).toBe('Bent corner');
  const stage = newStage(own, chain, own.nameOf(found));
  expect(stage).toMatchObject({ id: 'bentCorner', kind: 'script', script: 'corner', settings: { push: 1 } });
  const added = changeList(chain, undefined, (stages) => [...stages, stage]);
  expect(parseChain(catalogue, added).stages).toHaveLength(4);
  expect(referenceOf(found)).toMatchObject({
    title: 'Bent corner',
    params: [{ key: 'push', range: '0 % to 400 %', doc: 'How far into the table the sound is pushed.' }],
  });
  expect(searchStages(catalogue, 'crooked')).toEqual([]);
});

test('rendered, and played live to the same samples, by a thread that has the plan alone', () => {
  const source = noise(RATE, RATE, 2);
  const rendered = finishRender(renderChain(catalogue, { chain, source })).channels;
  const plan = structuredClone(planStages(catalogue, chain, RATE));
  const engine = new LiveEngine(known(), RATE);
  engine.load('work', { head: headOfClip(source), plan, gain: 0 });
  engine.listen('work');
  engine.play(0, undefined, 2 * RATE);
  const block = [new Float32Array(128), new Float32Array(128)];
  for (let at = 0; at + 128 <= RATE; at += 128) {
    engine.process(block[0], block[1], 128);
    // The play button comes in over 10 ms.
    if (at >= 480) for (const c of [0, 1]) expect(block[c]).toEqual(rendered[c].slice(at, at + 128));
  }
  expect(() => new LiveEngine(BUILT_INS, RATE).load('work', { head: headOfClip(source), plan, gain: 0 })).toThrow(
    InputError,
  );
});

test('what comes out is what its table says', () => {
  const one = parseChain(catalogue, { ...document, stages: [document.stages[2]], routes: [] });
  const source = sine(100, 0.8, 0.1);
  const [out] = finishRender(renderChain(catalogue, { chain: one, source })).channels;
  expect(Math.max(...out.map((x, i) => Math.abs(x - 0.5 * source.channels[0][i])))).toBeLessThan(1e-7);
});

test('edited: settings, another text of the same script', () => {
  expect(setSetting(catalogue, chain, 'bent.push', 3).stages[1].branches![0].stages[0].settings['push']).toBe(3);
  expect(assign(catalogue, chain, 'last.push=250%').stages[2].settings['push']).toBe(2.5);
  const other = { ...chain, scripts: [{ ...chain.scripts[0], text: 'Straight\n-1 1' }, chain.scripts[1]] };
  const shape = (one: typeof chain) => shapeOf(catalogue, planStages(catalogue, one, RATE));
  expect(shape(other)).not.toBe(shape(chain));
});

test('varied, and written on the sheet', () => {
  const drawn = varied(catalogue, chain, { amount: 1, seed: 4, over: 'settings' });
  expect(drawn.stages[2].settings['push']).not.toBe(1);
  const sheet = JSON.stringify(sheetOf(catalogue, chain, []));
  for (const part of ['Bent corner', 'Half as loud', '200 %']) expect(sheet).toContain(part);
});

test('what another thread has read need not be read here', () => {
  const cannot = new Catalogue({
    stages: STAGES,
    heads: [clipHead],
    languages: [{ ...tableLanguage, read: () => expect.fail('it was read') }],
  });
  const [, half] = document.scripts;
  cannot.take('table', half.text, tableLanguage.read(half.text));
  expect(cannot.for({ scripts: [half] }).of({ kind: 'script', script: 'half' }).title).toBe('Half as loud');
});
