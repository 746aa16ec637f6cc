/** Chain files as they were written before panel, modulators, routes and lanes were there: each opens. What it gives is pinned, and moves only when a stage in it is mended. */
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { createRandom } from '../dsp/random.ts';
import { TAU, exp, sin } from '../dsp/portableMath.ts';
import { frameCount, type Clip } from '../model/clip.ts';
import { renderOf } from '../testing/chains.ts';
import { parseChainText } from './validate.ts';

const RATE = 48000;

/** Five struck tones with noise in them. */
function struck(): Clip {
  const random = createRandom(11);
  const channels = [0, 1].map((c) =>
    Float32Array.from({ length: 60000 }, (_, i) => {
      const t = (i % 12000) / RATE;
      return Math.fround(exp(-t * 9) * (0.4 * sin(TAU * (180 + 40 * c) * t) + 0.2 * (random() - 0.5)));
    }),
  );
  return { sampleRate: RATE, origin: 0, channels };
}

test.each([
  ['tide-turning', 307742, -307295, '5d9c8c3657e072b8'],
  ['talking-kettle', 61867, 0, '958308e8d236229f'],
  ['barometer-drop', 60000, 0, '9208f331e6347c5e'],
  ['hail', 67073, 0, 'e8bdfc10b5180675'],
  ['isobar-choir', 223885, 0, '3495ef6242f47b6f'],
  ['undertow', 312924, 0, '279ecc6e92122afc'],
  ['deep-keeper', 62037, 0, 'ccb2988c2e39c664'],
  ['signal-box', 92208, 0, '3b81012f29091cd9'],
  ['slack-water', 60000, 0, '4ea19f83a429dc23'],
  ['rain-gauge', 145960, 0, '94868636923df465'],
  ['weather-vane', 61222, 0, 'eee0080c2ff528aa'],
  ['mooring-line', 65163, 0, '905e1b1b417c421f'],
  ['wave-on-wave', 183870, -61935, 'd80c06433b132345'],
  ['slow-ferry', 155285, 0, 'd458f9550beb0b30'],
])('%s', async (name, frames, origin, digest) => {
  const text = await readFile(new URL(`fixtures/${name}.hxk.json`, import.meta.url), 'utf8');
  const rendered = renderOf(parseChainText(BUILT_INS, text), struck());
  expect([frameCount(rendered), rendered.origin]).toEqual([frames, origin]);
  const hash = createHash('sha256');
  for (const { buffer, byteOffset, byteLength } of rendered.channels)
    hash.update(new Uint8Array(buffer, byteOffset, byteLength));
  expect(hash.digest('hex').slice(0, 16)).toBe(digest);
});
