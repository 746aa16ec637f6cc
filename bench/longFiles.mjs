// Long files through live stages on the command line: peak memory and time.
import { spawnSync } from 'node:child_process';
import { createWriteStream, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { once } from 'node:events';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import * as core from './core.mjs';

const RATE = 48000;
const cli = fileURLToPath(new URL('../packages/cli/bin/hexenkessel.js', import.meta.url));

export async function benchmarkLongFiles() {
  const folder = mkdtempSync(join(tmpdir(), 'hexenkessel-bench-'));
  try {
    const chain = join(folder, 'chain.hxk.json');
    const stages = [
      { id: 'filter', kind: 'filter' },
      { id: 'hall', kind: 'hall', mix: 0.4 },
      { id: 'gain', kind: 'gain' },
    ];
    writeFileSync(chain, JSON.stringify({ format: 'hexenkessel.chain', version: 1, name: 'Long', stages }));
    const rows = [];
    for (const minutes of [5, 15, 60]) {
      const source = join(folder, 'in.wav');
      await writeNoise(source, minutes);
      const began = performance.now();
      const peak = peakMemory(['render', '--chain', chain, '--in', source, '--out', join(folder, 'out.wav')]);
      const seconds = (performance.now() - began) / 1000;
      rows.push([
        `${minutes} minutes of stereo through Filter, Hall, Gain on the command line: memory, time`,
        `${peak} MiB, ${seconds.toFixed(0)} s, ${((minutes * 60) / seconds).toFixed(0)}× real time`,
      ]);
    }
    return rows;
  } finally {
    rmSync(folder, { recursive: true });
  }
}

async function writeNoise(path, minutes) {
  const frames = minutes * 60 * RATE;
  const encoder = new core.WavEncoder({ depth: '24', channels: 2, sampleRate: RATE }, frames);
  const random = core.createRandom(2);
  const file = createWriteStream(path);
  const write = async (bytes) => file.write(bytes) || (await once(file, 'drain'));
  await write(encoder.header(frames));
  const second = [0, 1].map(() => Float32Array.from({ length: RATE }, () => 0.4 * (random() - 0.5)));
  for (let n = 0; n < minutes * 60; n++) await write(encoder.encode(second));
  file.end();
  await once(file, 'finish');
}

/** Greatest resident memory of the command line while it works, in MiB. */
export function peakMemory(args) {
  // The high-water mark of its own memory; that of `getrusage` would begin with the parent's.
  const tell = `import { readFileSync } from 'node:fs'; process.on('exit', () => process.stderr.write(readFileSync('/proc/self/status', 'utf8')))`;
  const run = spawnSync('node', ['--import', `data:text/javascript,${encodeURIComponent(tell)}`, cli, ...args], {
    encoding: 'utf8',
  });
  const found = /VmHWM:\s*(\d+)/.exec(run.stderr);
  if (run.status !== 0 || !found) throw new Error(run.stderr);
  return Math.round(Number(found[1]) / 1024);
}
