// Whole-clip stages: how many times faster than what comes out of them plays. And a long texture on the command line.
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as core from './core.mjs';
import { peakMemory } from './longFiles.mjs';

const RATE = 48000;
const STAGES = [
  ['Reverse', { kind: 'reverse' }],
  [
    'Bend, +24 to −24 semitones',
    {
      kind: 'bend',
      settings: {
        speed: {
          over: 'clip',
          points: [
            { at: 0, value: 24 },
            { at: 1, value: -24 },
          ],
        },
      },
    },
  ],
  ['Speed, an octave down', { kind: 'speed', settings: { interval: -12 } }],
  ['Stretch, 1.5 times', { kind: 'stretch' }],
  ['Smear, 10 times', { kind: 'smear', settings: { factor: 10 } }],
  ['Settle pitch', { kind: 'settlePitch' }],
  ['Slices by attacks', { kind: 'slices', settings: { by: 'attacks' } }],
  ['Normalise to a loudness', { kind: 'normalise', settings: { measure: 'loudness', to: -20 } }],
];

export async function benchmarkClipStages(chainOf, median, noise) {
  const rows = [];
  const source = noise(10);
  for (const [title, stage] of STAGES) {
    const chain = chainOf([{ id: 'a', ...stage }]);
    let frames = 0;
    const seconds = median(
      3,
      () => (frames = core.frameCount(core.finishRender(core.renderChain(core.BUILT_INS, { chain, source })))),
    );
    rows.push([
      `${title}, 10 s of stereo: times real time of what comes out`,
      `${(frames / RATE / seconds).toFixed(1)}×`,
    ]);
  }
  const folder = mkdtempSync(join(tmpdir(), 'hexenkessel-bench-'));
  try {
    const [path, chain] = [join(folder, 'in.wav'), join(folder, 'chain.hxk.json')];
    writeFileSync(path, Buffer.concat([...core.encodeWav(source, { depth: '24' })]));
    writeFileSync(chain, JSON.stringify(chainOf([{ id: 'a', kind: 'smear', settings: { factor: 50 } }])));
    const began = performance.now();
    const peak = peakMemory(['render', '--chain', chain, '--in', path, '--out', join(folder, 'out.wav')]);
    const seconds = (performance.now() - began) / 1000;
    rows.push([
      '10 s of stereo smeared 50 times on the command line: memory, time',
      `${peak} MiB, ${seconds.toFixed(0)} s, ${(500 / seconds).toFixed(0)}× real time`,
    ]);
  } finally {
    rmSync(folder, { recursive: true });
  }
  return rows;
}
