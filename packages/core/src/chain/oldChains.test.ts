/** Chain files as they were written before panel, modulators, routes and lanes were there: each opens and sounds as it did. */
import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { expect, test } from 'vitest';
import { createRandom } from '../dsp/random.ts';
import { TAU, exp, sin } from '../dsp/portableMath.ts';
import { frameCount, type Clip } from '../engine/clip.ts';
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
  ['tide-turning', 307742, -307295, '6561e6a36495184b'],
  ['talking-kettle', 61867, 0, '2d6357c24d34ed26'],
  ['barometer-drop', 60000, 0, '9208f331e6347c5e'],
  ['hail', 67073, 0, 'b0dfde4ca0eddfc2'],
  ['isobar-choir', 216514, 0, 'b93e320785038cfa'],
  ['undertow', 317534, 0, '6abd46fbd2a51819'],
  ['deep-keeper', 62002, 0, '8de269bd5b10a065'],
  ['signal-box', 89206, 0, '5b90876c9ea3f87e'],
  ['slack-water', 60000, 0, '4ea19f83a429dc23'],
  ['rain-gauge', 145959, 0, '8232c5808803082b'],
  ['weather-vane', 61222, 0, 'eee0080c2ff528aa'],
  ['mooring-line', 65849, 0, '19f4e2dd4772496e'],
  ['wave-on-wave', 183870, -61935, '300f1f7fbe0eb37a'],
  ['slow-ferry', 152656, 0, '9635e8a9c362111a'],
])('%s', async (name, frames, origin, digest) => {
  const text = await readFile(new URL(`fixtures/${name}.hxk.json`, import.meta.url), 'utf8');
  const rendered = renderOf(parseChainText(text), struck());
  expect([frameCount(rendered), rendered.origin]).toEqual([frames, origin]);
  const hash = createHash('sha256');
  for (const { buffer, byteOffset, byteLength } of rendered.channels)
    hash.update(new Uint8Array(buffer, byteOffset, byteLength));
  expect(hash.digest('hex').slice(0, 16)).toBe(digest);
});
