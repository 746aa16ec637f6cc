/** A stage in a language of its own runs in the browser's audio thread, from what the plan brings with it. */
import { expect, test } from '@playwright/test';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'vite';
import { parseChain } from '@hexenkessel/core/chain';
import { planStages } from '@hexenkessel/core/engine';
import { createMeterBoard, createSharedSettings } from '@hexenkessel/core/live';
import { BUILT_INS, Catalogue, type StageLanguage } from '@hexenkessel/core/stages';
import { clearRecording, heardFor, installRecorder, recording } from './recorder.ts';
import { tableLanguage } from '../packages/core/src/testing/tableLanguage.ts';

const RATE = 48000;
const FRAMES = 24_000;

async function workletScript(): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'hexenkessel-worklet-'));
  try {
    await build({
      configFile: false,
      logLevel: 'error',
      resolve: { conditions: ['source'] },
      build: {
        outDir: folder,
        lib: { entry: 'e2e/tableWorklet.ts', formats: ['es'], fileName: 'worklet' },
      },
    });
    return await readFile(join(folder, 'worklet.js'), 'utf8');
  } finally {
    await rm(folder, { recursive: true });
  }
}

test('a table between two stages bends what is played', async ({ page }) => {
  const catalogue = new Catalogue({
    stages: BUILT_INS.stages,
    heads: [BUILT_INS.headOf({ kind: 'clip' })],
    languages: [tableLanguage as StageLanguage],
  });
  const chain = parseChain(catalogue, {
    format: 'hexenkessel.chain',
    version: 2,
    name: 'Table',
    stages: [
      { id: 'up', kind: 'gain', settings: { gain: 6 } },
      { id: 'bent', kind: 'script', script: 'corner' },
      { id: 'down', kind: 'gain', settings: { gain: -6 } },
    ],
    scripts: [{ id: 'corner', language: 'table', text: 'Corner\n-0.5 -0.5 0 0.5 0.5' }],
  });
  const plan = planStages(catalogue, chain, RATE);
  const script = await workletScript();
  // A page of its own, isolated as ours are.
  const server = createServer((request, response) => {
    response.setHeader('Cross-Origin-Opener-Policy', 'same-origin');
    response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp');
    response.setHeader('content-type', request.url === '/worklet.js' ? 'text/javascript' : 'text/html');
    response.end(request.url === '/worklet.js' ? script : '<title>Table</title>');
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  await installRecorder(page);
  await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
  const memory = { board: createMeterBoard().byteLength, settings: createSharedSettings().byteLength };
  await page.evaluate(
    async ({ rate, frames, stages, sizes }) => {
      const context = new AudioContext({ sampleRate: rate });
      await context.audioWorklet.addModule('/worklet.js');
      const node = new AudioWorkletNode(context, 'hexenkessel-engine', {
        numberOfInputs: 0,
        outputChannelCount: [2],
        processorOptions: {
          board: new SharedArrayBuffer(sizes.board),
          settings: new SharedArrayBuffer(sizes.settings),
          clock: new SharedArrayBuffer(8),
        },
      });
      node.connect(context.destination);
      // A ramp from −1 to 1: what comes out is the table itself.
      const ramp = Float32Array.from({ length: frames }, (_, i) => (2 * i) / frames - 1);
      const clip = { sampleRate: rate, origin: 0, channels: [ramp] };
      const head = { kind: 'clip', values: {}, sampleRate: rate, seed: 0, notes: [], clip };
      const content = { head, plan: stages, gain: 0, span: { start: 0, end: frames }, shift: 0 };
      node.port.postMessage({ type: 'deck', id: 'work', number: 0, content });
      node.port.postMessage({ type: 'listen', id: 'work' });
      Object.assign(window, {
        playTable: () => node.port.postMessage({ type: 'play', turn: 1, from: 0, end: 2 * frames, deviceLatency: 0 }),
      });
    },
    { rate: RATE, frames: FRAMES, stages: JSON.parse(JSON.stringify(plan)) as never, sizes: memory },
  );
  await clearRecording(page);
  await page.evaluate(() => (window as unknown as { playTable: () => void }).playTable());
  await heardFor(page, FRAMES + 1024);
  const [left] = await recording(page);
  server.close();
  const double = 10 ** (6 / 20);
  const expected = (i: number) => Math.max(-0.5, Math.min(0.5, ((2 * i) / FRAMES - 1) * double)) / double;
  // Play comes in over 10 ms, from nothing at its first frame on.
  const first = left.findIndex((x) => x !== 0) - 1;
  let worst = 0;
  for (let i = 600; i < FRAMES; i++) worst = Math.max(worst, Math.abs(left[first + i] - expected(i)));
  expect(worst).toBeLessThan(1e-6);
});
