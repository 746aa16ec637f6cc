import { NO_INPUT } from '../../modulation/modulators/contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { Span } from '../../model/clip.ts';
import { ModulationBus } from './modulationBus.ts';
import { countedFor, type PlannedModulator } from '../plan/plannedModulation.ts';

/**
 * The movement of a run that begins at `from` of the timeline and goes on from there. Where the rate of a modulator is
 * moved, its turns are summed up from the timeline's beginning, so that a stretch of a sound is moved as in all of it.
 */
export function movementFrom(
  modulators: readonly PlannedModulator[],
  from: number,
  sampleRate: number,
  span: Span,
  latency = 0,
): ModulationBus {
  const counted = countedFor(modulators);
  const begun = from === 0 || counted.length === 0 ? undefined : turnsAt(counted, from, sampleRate, span);
  return new ModulationBus(modulators, sampleRate, span, { latency, ...(begun && { begun }) });
}

/** Turns of each at `from`, which are 0 where the timeline begins. */
function turnsAt(
  counted: readonly PlannedModulator[],
  from: number,
  sampleRate: number,
  span: Span,
): ReadonlyMap<string, number> {
  const blocks = Math.ceil(Math.abs(from) / BLOCK_FRAMES);
  const first = Math.max(from, 0) - blocks * BLOCK_FRAMES;
  const run = (begun?: ReadonlyMap<string, number>) => {
    const runner = new ModulationBus(counted, sampleRate, span, begun && { begun });
    const turns = () => counted.map(({ key }) => runner.find(key)?.processor.turns?.turns ?? 0);
    let inFirst: readonly number[] = [];
    for (let b = 0; b < blocks; b++) {
      runner.advance(NO_INPUT, first + b * BLOCK_FRAMES);
      if (b === 0) inFirst = turns();
    }
    return { inFirst, end: turns() };
  };
  const byKey = (values: readonly number[]) => new Map(counted.map(({ key }, n) => [key, values[n]]));
  if (from > 0) return byKey(run().end);
  // Before the timeline's beginning they are counted from the first block on, and what they then are at 0 goes off. That
  // moves what they move: each time round, one more of those that move each other in a row is right.
  let begun = counted.map(() => 0);
  let last = run(byKey(begun));
  for (let round = 0; round < counted.length; round++) {
    begun = begun.map((turns, n) => turns - last.end[n]);
    last = run(byKey(begun));
  }
  const over = (from - first) / BLOCK_FRAMES;
  return byKey(begun.map((turns, n) => turns + over * (last.inFirst[n] - turns)));
}
