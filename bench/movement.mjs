/** What modulators and routes add to a block: 32 modulators with 256 routes, against the same stages at rest. */
import { performance } from 'node:perf_hooks';
import * as core from './core.mjs';

const RATE = 48000;
const SECONDS = 4;
const BLOCKS = (SECONDS * RATE) / 128;

const kinds = core.MODULATORS.map(({ kind }) => kind);
const stages = Array.from({ length: 16 }, (_, n) => ({ id: `f${n}`, kind: 'filter', settings: { cutoff: 4000 } }));
const targets = stages.flatMap(({ id }) =>
  ['cutoff', 'resonance', 'drive', 'mix', 'level'].map((key) => `${id}.${key}`),
);
const modulators = Array.from({ length: 32 }, (_, n) => ({
  id: `m${n}`,
  kind: kinds[n % kinds.length],
  settings: kinds[n % kinds.length] === 'lfo' ? { rate: 0.5 + n / 4 } : {},
}));
const routes = Array.from({ length: 256 }, (_, n) => ({
  id: `r${n}`,
  from: `m${n % 32}`,
  to: targets[n % targets.length],
  depth: 0.05,
}));
const chain = (moving) =>
  core.parseChain(core.BUILT_INS, {
    format: 'hexenkessel.chain',
    version: 1,
    name: 'bench',
    stages,
    ...(moving ? { modulators, routes } : {}),
  });

const noise = core.createRandom(1);
const input = [0, 1].map(() => Float32Array.from({ length: 128 }, () => 0.2 * (noise() - 0.5)));

function secondsFor(moving) {
  const section = new core.Section(core.BUILT_INS, core.planStages(core.BUILT_INS, chain(moving), RATE), RATE, 2, {
    span: { start: 0, end: RATE },
  });
  let least = Infinity;
  for (let round = 0; round < 9; round++) {
    const began = performance.now();
    for (let block = 0; block < BLOCKS; block++) section.process(input, 128, (round * BLOCKS + block) * 128);
    least = Math.min(least, (performance.now() - began) / 1000);
  }
  return least;
}

export function benchmarkMovement() {
  const [still, moved] = [secondsFor(false), secondsFor(true)];
  const share = (seconds) => `${((100 * seconds) / SECONDS).toFixed(1)} % of real time`;
  return [
    ['16 filters in stereo at rest', share(still)],
    ['32 modulators with 256 routes add to them', share(moved - still)],
  ];
}
