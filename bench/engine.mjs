// The live engine by itself: how long a large chain takes to be compiled, and a million blocks with an eye on the heap.
import v8 from 'node:v8';
import vm from 'node:vm';
import * as core from './core.mjs';

const RATE = 48000;

/** 64 stages, four deep: 21 trees of a split in a split in a split that holds a gain, and one more. */
function largest() {
  const tree = (n) => {
    const inside = (stage, name) => ({
      id: `${name}${n}`,
      kind: 'split',
      branches: [{ id: `${name}b${n}`, stages: [stage] }],
    });
    return inside(inside({ id: `g${n}`, kind: 'filter' }, 'y'), 'x');
  };
  const deep = { id: 'top', kind: 'split', branches: [{ id: 'topb', stages: [tree(0)] }] };
  return [deep, ...Array.from({ length: 20 }, (_, n) => tree(n + 1))];
}

export function benchmarkEngine(median, chainOf, noise) {
  const stages = largest();
  const chain = chainOf(stages);
  const compile = median(
    9,
    () => new core.Section(core.BUILT_INS, core.planStages(core.BUILT_INS, chain, RATE), RATE, 2),
  );

  v8.setFlagsFromString('--expose-gc');
  const collect = vm.runInNewContext('gc');
  const plan = (gain) =>
    core.planStages(
      core.BUILT_INS,
      chainOf([
        { id: 'f', kind: 'filter', settings: { cutoff: 800 } },
        { id: 's', kind: 'split', branches: [{ id: 'b', stages: [{ id: 'g', kind: 'gain', settings: { gain } }] }] },
      ]),
      RATE,
    );
  const engine = new core.LiveEngine(core.BUILT_INS, RATE);
  engine.load('work', { head: core.headOfClip(noise(2)), plan: plan(0), gain: -1 });
  engine.listen('work');
  engine.play(0, { start: 0, end: 2 * RATE }, Infinity);
  const meters = new core.LiveMeters(new Float64Array(core.createMeterBoard()), RATE);
  const memory = core.createSharedSettings();
  const writer = new core.SettingsWriter(memory);
  const reader = new core.SettingsReader(memory);
  const settings = [core.flatValues(plan(0)), core.flatValues(plan(-6))];
  const output = [new Float32Array(128), new Float32Array(128)];
  const run = (blocks) => {
    for (let n = 0; n < blocks; n++) {
      if (n % 100 === 0) writer.write(0, settings[(n / 100) % 2]);
      if (reader.read(0)) engine.deck('work').section.setValues(reader.numbers, 0);
      engine.process(output[0], output[1], 128);
      meters.stages(engine.heard.section);
      meters.process(output, 128, 100);
    }
  };
  run(50_000);
  collect();
  const before = process.memoryUsage();
  run(1_000_000);
  collect();
  const after = process.memoryUsage();
  const count = core.allStages(chain.stages).length;
  return [
    [`a chain of ${count} stages, 4 deep: checked plan to running engine`, `${(1000 * compile).toFixed(1)} ms`],
    [
      'a million blocks while settings jump: growth of heap, of buffers',
      `${((after.heapUsed - before.heapUsed) / 1024).toFixed(0)} KiB, ${after.arrayBuffers - before.arrayBuffers} bytes`,
    ],
  ];
}
