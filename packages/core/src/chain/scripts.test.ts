import { beforeAll, expect, test } from 'vitest';
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { learnScripts } from '../script/learnScripts.ts';
import { checkEdit } from './checkEdit.ts';
import * as edits from './edits/index.ts';
import type { ChainDocument } from './schema.ts';
import { lostByScript, scriptTitles, withScript } from './scripts.ts';
import { emptyChain, parseChain } from './validate.ts';

beforeAll(learnScripts);

const script = (title: string, params: string) => ({
  language: 'hexenkessel',
  text: `export const language = 1;
export const title = '${title}';
export const family = 'drive';
export const summary = 'A trial.';
export const params = { ${params} };
export function channel() { return (x, p) => x; }`,
});
const AMOUNT = "amount: ratio({ default: 0.5, doc: 'More.' })";
const PLACE = "place: choice(['near', 'far'], { default: 'far', doc: 'Where.' })";
const TOP = { branchId: undefined, index: 0 };
const empty = () => emptyChain(BUILT_INS, 'Own');
const doing = (before: ChainDocument, edit: edits.ChainEdit) => checkEdit(BUILT_INS, before, edit.change(before));

test('a script is taken once however often it is used, and goes with its last stage', () => {
  const bell = script('Brass Bell 2', AMOUNT);
  const first = doing(empty(), edits.insertScript(BUILT_INS, bell, TOP));
  const two = doing(first, edits.insertScript(BUILT_INS, bell, TOP));
  const other = doing(two, edits.insertScript(BUILT_INS, script('Brass Bell 2', PLACE), TOP));
  expect(edits.insertScript(BUILT_INS, bell, TOP).name(empty())).toBe('add Brass Bell 2');
  expect(two.scripts.map(({ id }) => id)).toEqual(['brassBell2Text']);
  expect(two.stages.map(({ id }) => id)).toEqual(['brassBell22', 'brassBell2']);
  expect(new Set(two.stages.map((stage) => stage.script))).toEqual(new Set(['brassBell2Text']));
  expect(other.scripts).toHaveLength(2);
  expect(scriptTitles(BUILT_INS, other)).toEqual(['Brass Bell 2', 'Brass Bell 2']);
  expect(parseChain(BUILT_INS, JSON.parse(JSON.stringify(other)))).toEqual(other);
  const [gone, ...left] = other.stages;
  const without = doing(other, edits.removeStage(BUILT_INS, gone.id));
  expect(without.scripts.map(({ id }) => id)).toEqual(['brassBell2Text']);
  expect(doing(without, edits.removeStage(BUILT_INS, left[0].id)).scripts).toHaveLength(1);
});

test('another text keeps the settings that are still there, and tells what is lost', () => {
  let chain = doing(empty(), edits.insertScript(BUILT_INS, script('Lamp', `${AMOUNT}, ${PLACE}`), TOP));
  const [{ id, script: name }] = chain.stages;
  chain = doing(chain, edits.setSetting(BUILT_INS, `${id}.place`, 'near'));
  chain = doing(chain, edits.automate(BUILT_INS, `${id}.amount`));
  chain = doing(chain, edits.addModulator(BUILT_INS, 'lfo', `${id}.amount`));
  const { text } = script('Lamp', PLACE);
  expect(lostByScript(BUILT_INS, chain, name!, text)).toEqual(['Lamp, amount: a lane, a modulation']);
  const edit = edits.changeScript(BUILT_INS, name!, text);
  expect(edit.name(chain)).toBe('script of Lamp');
  const after = doing(chain, edit);
  expect(after.stages[0].settings).toEqual({ place: 'near' });
  expect([after.lanes, after.routes]).toEqual([[], []]);
  const narrow = script('Lamp', "amount: ratio({ default: 0.1, max: 0.2, doc: 'More.' })").text;
  expect(doing(chain, edits.changeScript(BUILT_INS, name!, narrow)).stages[0].settings).toEqual({ amount: 0.1 });
});

test('a title without letters of its own has an id all the same', () => {
  expect(withScript(BUILT_INS, empty(), script('2 × 音', AMOUNT)).script).toBe('script2Text');
  expect(withScript(BUILT_INS, empty(), script('音', AMOUNT)).script).toBe('scriptText');
});

test('what is no script is refused by its place', () => {
  expect(() => withScript(BUILT_INS, empty(), { language: 'hexenkessel', text: 'let x;' })).toThrow(/line 1, column 1/);
  expect(() =>
    parseChain(BUILT_INS, {
      ...empty(),
      stages: [{ id: 'a', kind: 'script', script: 's' }],
      scripts: [{ id: 's', language: 'hexenkessel', text: script('Lamp', AMOUNT).text.replace('=> x', '=> y') }],
    }),
  ).toThrow(/Stage 1: The script is not allowed: line 6, column \d+: y stands for nothing here/);
});
