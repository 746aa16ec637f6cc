// Speeds on this machine: medians of several rounds, printed and written to docs/benchmarks.md. No pass or fail.
import { writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import * as core from './core.mjs';
import { benchmarkBrowser } from './browser.mjs';
import { benchmarkClipStages } from './clipStages.mjs';
import { benchmarkEngine } from './engine.mjs';
import { benchmarkMovement } from './movement.mjs';
import { benchmarkExchange } from './exchange.mjs';
import { benchmarkFourier } from './fourier.mjs';
import { benchmarkLongFiles } from './longFiles.mjs';
import { benchmarkSilence } from './silence.mjs';

const RATE = 48000;
const rows = [];

/** Median seconds of `rounds` runs after one that warms up. */
export function median(rounds, work) {
  work();
  const times = Array.from({ length: rounds }, () => {
    const began = performance.now();
    work();
    return (performance.now() - began) / 1000;
  });
  return times.sort((a, b) => a - b)[Math.floor(rounds / 2)];
}

function noise(seconds) {
  const random = core.createRandom(1);
  const channel = () => Float32Array.from({ length: seconds * RATE }, () => random() - 0.5);
  return { sampleRate: RATE, origin: 0, channels: [channel(), channel()] };
}

const chainOf = (stages, render = { tail: { mode: 'none' } }) =>
  core.parseChain(core.BUILT_INS, {
    format: 'hexenkessel.chain',
    version: 1,
    name: 'Bench',
    stages,
    timing: { tempo: 93 },
    render,
  });
const add = (what, result) => {
  rows.push([what, result]);
  console.log(`${what.padEnd(64)} ${result}`);
};

const half = noise(30);
const swell = chainOf(
  [
    { id: 'flip', kind: 'reverse' },
    { id: 'hall', kind: 'hall', settings: { decay: { beats: 8 } } },
    { id: 'back', kind: 'reverse' },
  ],
  { tail: { mode: 'fixed', length: { beats: 8 } }, anchor: 'end' },
);
const seconds = median(7, () => core.finishRender(core.renderChain(core.BUILT_INS, { chain: swell, source: half })));
add('30 s stereo through Reverse, Hall, Reverse: times real time', `${(30 / seconds).toFixed(1)}×`);

for (const stage of core.BUILT_INS.stages.filter(({ runs }) => runs === 'live')) {
  // What needs another sound gets one: two seconds of noise.
  const named = Object.entries(stage.params).filter(([key, param]) => param.type === 'sound' && key !== 'side');
  const settings = Object.fromEntries(named.map(([key]) => [key, { sound: 'noise' }]));
  const { branches, mix } = core.newStage(core.BUILT_INS, core.emptyChain(core.BUILT_INS, 'bench'), {
    kind: stage.kind,
  });
  const chain = chainOf([{ id: 'a', kind: stage.kind, mix, settings, ...(branches ? { branches } : {}) }]);
  const source = noise(10);
  const sounds = () => ({ sha256: 'noise', clip: noise(2) });
  const cost = median(5, () => core.finishRender(core.renderChain(core.BUILT_INS, { chain, source, sounds })));
  const nanoseconds = (cost / (10 * RATE)) * 1e9;
  add(
    `${stage.title}, stereo: per frame, share of real time`,
    `${nanoseconds.toFixed(0)} ns, ${((nanoseconds * RATE) / 1e7).toFixed(2)} %`,
  );
}

{
  // The Cascade after a change to the first stage, and after one to the last: a cache as the page has it.
  const source = noise(30);
  const cache = new core.ClipCache(1e9);
  let turn = 0;
  const changed = (first, last) => {
    const chain = chainOf([
      { id: 'a', kind: 'filter', settings: { cutoff: 1000 + first } },
      { id: 'b', kind: 'hall' },
      { id: 'c', kind: 'gain', settings: { gain: -last / 100 } },
    ]);
    core.finishRender(core.renderChain(core.BUILT_INS, { chain, source, cache, sourceKey: 'noise' }));
  };
  const afterFirst = median(5, () => changed(++turn, 0));
  const first = turn;
  const afterLast = median(5, () => changed(first, ++turn));
  add('30 s, Filter, Hall, Gain: after a change to the first stage', `${(afterFirst * 1000).toFixed(0)} ms`);
  add(
    'the same after a change to the last stage',
    `${(afterLast * 1000).toFixed(0)} ms, ${(afterFirst / afterLast).toFixed(1)}× as fast`,
  );
}

add(
  'measuring 30 s stereo: peak, true peak, loudness',
  `${(median(5, () => core.measureClip(half)) * 1000).toFixed(0)} ms`,
);
for (const work of [
  () => benchmarkEngine(median, chainOf, noise),
  benchmarkMovement,
  () => benchmarkExchange(median),
  () => benchmarkFourier(median),
  () => benchmarkSilence(),
  () => benchmarkClipStages(chainOf, median, noise),
  benchmarkLongFiles,
  benchmarkBrowser,
]) {
  for (const [what, result] of await work()) add(what, result);
}

const date = new Date().toISOString().slice(0, 10);
writeFileSync(
  new URL('../docs/benchmarks.md', import.meta.url),
  `# Benchmarks\n\n\`npm run bench\` on ${date}, Node ${process.versions.node}, ${cpus()[0].model}. Medians; the machine is shared and its speed varies from run to run.\n\n` +
    `| what | result |\n|---|---|\n${rows.map(([what, result]) => `| ${what} | ${result} |`).join('\n')}\n\n` +
    `Decided from these: inner loops are written out over locals, as the exchange of the hall's sixteen lines shows. ` +
    `Transforms are the core's own: no slower than the common package up to 2048, and their tables come from \`dsp/portableMath.ts\`, so that every engine gives the same bits.\n`,
);
