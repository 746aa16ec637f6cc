import { expect, test } from 'vitest';
import { BUILT_INS } from '../../catalogue/builtIns.ts';
import { chainOf } from '../../testing/chains.ts';
import { learnScripts } from '../../script/learnScripts.ts';
import { allStages } from '../branches.ts';
import { checkEdit } from '../checkEdit.ts';
import { newStage } from '../edit.ts';
import type { ChainDocument } from '../schema.ts';
import { withoutDangling } from '../targets.ts';
import type { ChainEdit } from './chainEdit.ts';
import * as edits from './index.ts';

const CHAIN = chainOf(
  [
    { kind: 'filter', name: 'Fog' },
    { kind: 'split', branches: [{ id: 'a', stages: [{ id: 'tape', kind: 'tapeStop' }] }, { id: 'b' }] },
    { kind: 'gain' },
  ],
  {
    modulators: [{ id: 'lfo', kind: 'lfo' }],
    routes: [{ id: 'route', from: 'lfo', to: 'filter.cutoff', depth: 0.2 }],
    scripts: [{ id: 'hum', ...scriptOf('Hum') }],
    lanes: [{ target: 'gain.gain', curve: { over: 'clip', points: [{ at: 0, value: -6 }] } }],
    panel: [
      { id: 'near', name: 'Near', default: 50, value: 50, drives: [{ target: 'gain.level', from: -12, to: 0 }] },
      { id: 'far', name: 'Far', default: 0, value: 0 },
    ],
  },
);
/** Scripts are read by who has learned to. */
function scriptOf(title: string) {
  learnScripts();
  return {
    language: 'hexenkessel',
    text: `export const language = 1;
export const title = '${title}';
export const family = 'drive';
export const summary = 'Nothing.';
export function channel() { return (x) => x; }`,
  };
}
const LAMP = scriptOf('Lamp');
const FLAT = { over: 'clip', points: [{ at: 0, value: -3, bend: 0 }] } as const;
const echo = newStage(BUILT_INS, CHAIN, { kind: 'echo' });
const stageIn = (chain: ChainDocument, id: string) =>
  allStages(chain.stages).find(({ stage }) => stage.id === id)?.stage;

/** Each step, what undo calls it, and something that is then so. */
const STEPS: readonly (readonly [ChainEdit, name: string, (after: ChainDocument) => unknown, expected: unknown])[] = [
  [
    edits.insertStage(BUILT_INS, echo, { branchId: 'b', index: 0 }),
    'add Delay',
    ({ stages }) => stages[1].branches?.[1].stages[0].id,
    'echo',
  ],
  [
    edits.insertStage(BUILT_INS, echo, { branchId: undefined, index: Infinity }),
    'add Delay',
    ({ stages }) => stages.map(({ id }) => id),
    ['filter', 'split', 'gain', 'echo'],
  ],
  [
    edits.pasteStages(BUILT_INS, chainOf([{ id: 'gain', kind: 'gain', name: 'Buoy' }]), { branchId: 'b', index: 0 }),
    'paste Buoy',
    ({ stages }) => stages[1].branches?.[1].stages.map(({ id }) => id),
    ['gain2'],
  ],
  [
    edits.moveStage(BUILT_INS, 'filter', 1),
    'move Fog',
    ({ stages }) => stages.map(({ id }) => id),
    ['split', 'filter', 'gain'],
  ],
  [edits.moveStage(BUILT_INS, 'filter', -1), 'move Fog', (after) => after, CHAIN],
  [
    edits.reorderStages(BUILT_INS, 2, 0),
    'move Gain',
    ({ stages }) => stages.map(({ id }) => id),
    ['gain', 'filter', 'split'],
  ],
  [edits.removeStage(BUILT_INS, 'tape'), 'remove Tape stop', (after) => stageIn(after, 'tape'), undefined],
  [edits.switchStage(BUILT_INS, 'filter'), 'Fog off', (after) => stageIn(after, 'filter')?.on, false],
  [edits.switchStage(BUILT_INS, 'gain', true), 'Gain on', (after) => after, CHAIN],
  [edits.nameStage(BUILT_INS, 'filter', 'Mist'), 'name of Filter', (after) => stageIn(after, 'filter')?.name, 'Mist'],
  [
    edits.changeInPicture(BUILT_INS, 'filter', () => ({ cutoff: 500 })),
    'Filter in its picture',
    (after) => stageIn(after, 'filter')?.settings['cutoff'],
    500,
  ],
  [edits.addBranch(BUILT_INS, 'split'), 'add a branch', ({ stages }) => stages[1].branches?.length, 3],
  [
    edits.changeBranch(BUILT_INS, 'b', { muted: true }),
    'mute of Branch 2',
    ({ stages }) => stages[1].branches?.[1].muted,
    true,
  ],
  [
    edits.removeBranch(BUILT_INS, 'a'),
    'remove Branch 1',
    ({ stages }) => stages[1].branches?.map(({ id }) => id),
    ['b'],
  ],
  [
    edits.setSetting(BUILT_INS, 'filter.cutoff', 700),
    'cutoff of Fog',
    (after) => stageIn(after, 'filter')?.settings['cutoff'],
    700,
  ],
  [edits.setSetting(BUILT_INS, 'gain.level', -6), 'output level of Gain', ({ panel }) => panel[0].value, 50],
  [
    edits.switchSync(BUILT_INS, 'lfo.rate'),
    'tempo sync on: rate',
    ({ modulators }) => modulators[0].settings['rate'],
    { note: '1/2' },
  ],
  [edits.switchLock(BUILT_INS, 'filter.cutoff'), 'lock cutoff', ({ locked }) => locked, ['filter.cutoff']],
  [edits.turnSwitch(BUILT_INS, 'tape.stop', true), 'stop', (after) => stageIn(after, 'tape')?.settings['stop'], true],
  [edits.addModulator(BUILT_INS, 'envelope'), 'add Breakpoint envelope', ({ modulators }) => modulators.length, 2],
  [
    edits.addModulator(BUILT_INS, 'lfo', 'filter.resonance'),
    'modulate resonance (Q) by a new LFO',
    ({ routes }) => routes.at(-1)?.to,
    'filter.resonance',
  ],
  [
    edits.modulate(BUILT_INS, 'filter.resonance', 'near'),
    'modulate resonance (Q) by Near',
    ({ routes }) => routes.at(-1)?.from,
    'near',
  ],
  [edits.nameModulator('lfo', 'Swell'), 'name of LFO', ({ modulators }) => modulators[0].name, 'Swell'],
  [edits.switchModulator('lfo', false), 'LFO off', ({ modulators }) => modulators[0].on, false],
  [edits.removeModulator('lfo'), 'remove LFO', ({ modulators, routes }) => [modulators, routes], [[], []]],
  [
    edits.changeRoute(BUILT_INS, 'route', { depth: 0.5 }),
    'depth of LFO on Fog, cutoff',
    ({ routes }) => routes[0].depth,
    0.5,
  ],
  [
    edits.changeRoute(BUILT_INS, 'route', { bend: 0.5 }),
    'curve of LFO on Fog, cutoff',
    ({ routes }) => routes[0].bend,
    0.5,
  ],
  [edits.removeRoute(BUILT_INS, 'route'), 'remove route from LFO to Fog, cutoff', ({ routes }) => routes, []],
  [edits.automate(BUILT_INS, 'filter.cutoff'), 'automate cutoff', ({ lanes }) => lanes.at(-1)?.target, 'filter.cutoff'],
  [edits.changeLane(BUILT_INS, 'gain.gain', 'sine', FLAT), 'sine of Gain, gain', ({ lanes }) => lanes[0].curve, FLAT],
  [edits.switchLane(BUILT_INS, 'gain.gain', false), 'lane of Gain, gain off', ({ lanes }) => lanes[0].on, false],
  [edits.removeLane(BUILT_INS, 'gain.gain'), 'no lane of Gain, gain', ({ lanes }) => lanes, []],
  [edits.pin(BUILT_INS, 'filter.cutoff'), 'pin cutoff', ({ panel }) => panel.length, 3],
  [
    edits.pin(BUILT_INS, 'filter.cutoff', 'far'),
    'pin cutoff to Far',
    ({ panel }) => panel[1].drives[0].target,
    'filter.cutoff',
  ],
  [
    edits.unpin(BUILT_INS, 'gain.level'),
    'unpin output level',
    ({ panel }) => panel.flatMap(({ drives }) => drives),
    [],
  ],
  [edits.turnControl(BUILT_INS, 'near', 100), 'Near', (after) => stageIn(after, 'gain')?.level, 0],
  [edits.changeControl(BUILT_INS, 'near', { group: 'Room' }), 'group of Near', ({ panel }) => panel[0].group, 'Room'],
  [edits.changeScale(BUILT_INS, 'near', { max: 11 }), 'max of Near', ({ panel }) => panel[0].max, 11],
  [
    edits.changeReach(BUILT_INS, 'near', 'gain.level', { to: 3 }),
    'Near over output level',
    ({ panel }) => panel[0].drives[0].to,
    3,
  ],
  [
    edits.insertScript(BUILT_INS, LAMP, { branchId: 'b', index: 0 }),
    'add Lamp',
    (after) => [stageIn(after, 'lamp')?.script, after.scripts.length],
    ['lampText', 2],
  ],
  [
    edits.changeScript(BUILT_INS, 'hum', LAMP.text),
    'script of Hum',
    ({ scripts }) => scripts,
    [{ ...LAMP, id: 'hum' }],
  ],
  [edits.moveControl('near', 1), 'move Near', ({ panel }) => panel.map(({ id }) => id), ['far', 'near']],
  [edits.moveControl('near', -1), 'move Near', (after) => after, CHAIN],
  [edits.removeControl('far'), 'remove Far from the panel', ({ panel }) => panel.map(({ id }) => id), ['near']],
  [edits.nameChain('Bog'), 'name of the chain', ({ name }) => name, 'Bog'],
  [
    edits.nameChain('Bog', { name: 'Foghorn', sha256: '0'.repeat(64) }),
    'name of the chain',
    ({ about }) => about.sound?.sound,
    'Foghorn',
  ],
  [edits.changeAbout({ kind: 'hall' }), 'category', ({ about }) => about.kind, 'hall'],
  [edits.setTempo(93), 'tempo', ({ timing }) => timing.tempo, 93],
  [edits.setTempo(93, 'tempo from song.mid', [6, 8]), 'tempo from song.mid', ({ timing }) => timing.meter, [6, 8]],
  [edits.setMeter([3, 4]), 'meter', ({ timing }) => timing.meter, [3, 4]],
  [edits.followTempo('sound'), 'tempo source', ({ timing }) => timing.follows, 'sound'],
  [edits.changeRender({ channels: 'mono' }), 'channels', ({ render }) => render.channels, 'mono'],
  [edits.changeRegion({ tail: 'cut' }), 'splice tail', ({ render }) => render.region.tail, 'cut'],
  [edits.replaceChain('restore version 3', { ...CHAIN, name: 'Old' }), 'restore version 3', ({ name }) => name, 'Old'],
];

test.each(STEPS.map(([edit, name, found, expected]) => [name, edit, found, expected] as const))(
  '“%s”',
  (name, edit, found, expected) => {
    expect(edit.name(CHAIN)).toBe(name);
    const after = checkEdit(BUILT_INS, CHAIN, withoutDangling(BUILT_INS, edit.change(CHAIN)));
    expect(found(after)).toEqual(expected);
  },
);

test('every step is tried', () => {
  const tried = new Set(STEPS.map(([{ name, change }]) => `${name}${change}`));
  expect(tried.size).toBe(Object.keys(edits).length);
});
