/** Every demo chain is changed in every way while it plays: nothing stops, and nothing that is heard is no number. */
import { describe, expect, test } from 'vitest';
import { BUILT_INS, headOfClip } from '@hexenkessel/core/stages';
import {
  allStages,
  changeList,
  changeStage,
  parseChain,
  placeOf,
  withoutDangling,
  type ChainDocument,
} from '@hexenkessel/core/chain';
import { liveEnd } from '@hexenkessel/core/engine';
import { BOARD, LiveEngine, LiveMeters, createMeterBoard } from '@hexenkessel/core/live';
import { DEMO_CHAINS, DEMO_SOUNDS } from './index.ts';
import { someOf } from './testing/some.ts';
import { bankFor, clipOf } from './testing/museum.ts';

const BLOCK = 128;
/** Blocks between two changes: longer than arrangements take to pass into one another, and in the middle of that. */
const RESTS = [15, 3, 8];

interface Change {
  readonly name: string;
  readonly chain: ChainDocument;
}

/** The chain with each stage off, removed, and moved down by one; and as far as each row, the source's first. */
function changesOf(chain: ChainDocument): Change[] {
  const all = allStages(chain.stages).map(({ stage }) => stage);
  const edited = (name: string, changed: ChainDocument) => ({
    name,
    chain: parseChain(BUILT_INS, withoutDangling(BUILT_INS, changed)),
  });
  return [
    ...all.map(({ id }) =>
      edited(
        `${id} off`,
        changeStage(chain, id, (stage) => ({ ...stage, on: false })),
      ),
    ),
    ...all.map(({ id }) => {
      const list = placeOf(chain, id)?.branchId;
      return edited(
        `${id} removed`,
        changeList(chain, list, (stages) => stages.filter((stage) => stage.id !== id)),
      );
    }),
    ...all.flatMap(({ id }) => {
      const { branchId, index = 0, count = 0 } = placeOf(chain, id) ?? {};
      if (index + 1 >= count) return [];
      const down = changeList(chain, branchId, (stages) =>
        stages.toSpliced(index, 2, stages[index + 1], stages[index]),
      );
      return [edited(`${id} moved`, down)];
    }),
    // Heard as far as a row, a chain keeps the routes whose stage is not there.
    ...[...chain.stages.keys(), -1].map((row) => ({
      name: row < 0 ? 'the source row' : `row ${row + 1}`,
      chain: { ...chain, stages: chain.stages.slice(0, row + 1) },
    })),
  ];
}

describe.each(someOf(DEMO_CHAINS, 22).map((chain) => [chain.name, chain] as const))('%s', (_, chain) => {
  test('goes on playing through every change and its undoing', async () => {
    const source = await clipOf(DEMO_SOUNDS.find(({ name }) => name === 'Boiler-room drums')!);
    const sounds = await bankFor(chain);
    const plan = (document: ChainDocument) => liveEnd(BUILT_INS, document, source.sampleRate, sounds);
    const engine = new LiveEngine(BUILT_INS, source.sampleRate);
    const board = new Float64Array(createMeterBoard());
    const meters = new LiveMeters(board, source.sampleRate);
    engine.load('work', { head: headOfClip(source), plan: plan(chain), gain: 0 });
    engine.listen('work');
    engine.play(0, { start: 0, end: source.channels[0].length }, Infinity);
    const block = [new Float32Array(BLOCK), new Float32Array(BLOCK)];
    const faults: string[] = [];
    let loudest = 0;
    const run = (blocks: number, name: string) => {
      for (let n = 0; n < blocks; n++) {
        engine.process(block[0], block[1], BLOCK);
        meters.stages(engine.heard!.section);
        for (const side of block) for (const x of side) loudest = Math.abs(x) > loudest ? Math.abs(x) : loudest;
        const told = board[BOARD.faultStage] + board[BOARD.modulatorFaults] + board[BOARD.failures];
        if ((told > 0 || !block.every((side) => side.every(Number.isFinite))) && !faults.includes(name))
          faults.push(name);
      }
    };
    run(40, 'as it is');
    for (const [n, { name, chain: changed }] of changesOf(chain).entries()) {
      engine.replan('work', plan(changed));
      run(RESTS[n % RESTS.length], name);
      engine.replan('work', plan(chain));
      run(RESTS[(n + 1) % RESTS.length], `${name}, undone`);
    }
    run(40, 'as it was');
    expect(faults).toEqual([]);
    expect(loudest).toBeGreaterThan(0.01);
    expect(engine.playing).toBe(true);
  });
});
