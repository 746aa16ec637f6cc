import { expect, test } from 'vitest';
import { STAGES } from '../stages/index.ts';
import { isScaled, resolveSetting } from '../stages/params.ts';
import { bytesAllocated } from '../testing/allocations.ts';
import { chainOf } from '../testing/chains.ts';
import { noise } from '../testing/signals.ts';
import { LiveEngine } from './live/liveEngine.ts';
import { LiveMeters } from './live/liveMeters.ts';
import { createMeterBoard } from './live/meterBoard.ts';
import { SettingsReader, SettingsWriter, createSharedSettings } from './live/sharedSettings.ts';
import { flatValues, planStages } from './plan.ts';

const RATE = 48000;
const BLOCKS = 3000;
/** Frames of the short blocks. */
const SHORT = 16;

/** The engine as the audio thread runs it: settings from shared memory, a loop, meters. */
function running(kind: string) {
  const chain = (towardsMax: number) => {
    const stage = STAGES.find((candidate) => candidate.kind === kind)!;
    const settings = Object.entries(stage.params).map(([key, param]) => {
      if (!isScaled(param)) return [key, param.default];
      const from = resolveSetting(param, param.default, { tempo: 93, meter: [4, 4] }, RATE) as number;
      return [key, from + towardsMax * (param.max - from)];
    });
    return chainOf([{ kind, mix: 0.3 + towardsMax, level: -6, settings: Object.fromEntries(settings) }]);
  };
  const plans = [planStages(chain(0.07), RATE), planStages(chain(0.43), RATE)];
  const engine = new LiveEngine(RATE);
  engine.load('work', { clip: noise(RATE, RATE, 2), plan: plans[0], gain: -3 });
  engine.listen('work');
  engine.play(0, { start: 0, end: RATE }, Infinity);
  const meters = new LiveMeters(new Float64Array(createMeterBoard()), RATE);
  const memory = createSharedSettings();
  const writer = new SettingsWriter(memory);
  const reader = new SettingsReader(memory);
  const numbers = plans.map(flatValues);
  const output = [new Float32Array(128), new Float32Array(128)];
  return (blocks: number, changeEvery: number, frames: number) => {
    for (let n = 0; n < blocks; n++) {
      if (n % changeEvery === 0) writer.write(0, numbers[(n / changeEvery) % 2]);
      if (reader.read(0)) engine.deck('work')!.section.setValues(reader.numbers, 0);
      engine.process(output[0], output[1], frames);
      meters.stages(engine.heard!.section);
      meters.process(output, frames, 100);
    }
  };
}

for (const { kind } of STAGES.filter(({ reach }) => reach === 'live')) {
  test(`${kind}: a block takes no memory`, async () => {
    const run = running(kind);
    run(2 * BLOCKS, 50, 128); // until the compiler has done its work
    run(2 * BLOCKS, 50, SHORT);
    for (const changeEvery of [Infinity, 50]) {
      const long = (await bytesAllocated(() => run(BLOCKS, changeEvery, 128))) / BLOCKS;
      const short = (await bytesAllocated(() => run(BLOCKS, changeEvery, SHORT))) / BLOCKS;
      // The compiler may put numbers in boxes of 16 bytes, as it sees fit, a few a frame. What is taken once a block,
      // however short, is none of those: the smallest array of samples is more than is allowed here.
      const aFrame = Math.max(0, long - short) / (128 - SHORT);
      const aBlock = short - SHORT * aFrame;
      const what = changeEvery === 50 ? 'while settings move' : 'while nothing moves';
      expect(aFrame, `bytes a frame ${what}`).toBeLessThan(130);
      expect(aBlock, `bytes a block ${what}`).toBeLessThan(changeEvery === 50 ? 2000 : 400);
    }
  });
}
