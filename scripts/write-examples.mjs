// Writes packages/core/src/script/exampleTexts.ts: the scripts that ship, from packages/core/src/script/examples. Run it with
// `node scripts/write-examples.mjs`; a test says when that is due.
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const script = new URL('../packages/core/src/script/', import.meta.url);
/** In the order in which they are read best. */
const NAMES = [
  'repeat',
  'ringModulator',
  'bitCrusher',
  'darkeningRepeats',
  'softClipper',
  'gate',
  'tapeWobble',
  'autoPanner',
  'resonators',
  'freeze',
  'backwardsFirst',
  'meter',
];

export function exampleTexts() {
  return Object.fromEntries(
    NAMES.map((name) => [name, readFileSync(new URL(`examples/${name}.hxk.js`, script), 'utf8')]),
  );
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  writeFileSync(
    new URL('exampleTexts.ts', script),
    `/** Written by scripts/write-examples.mjs; not to be changed by hand. */\nexport const EXAMPLE_TEXTS: Readonly<Record<string, string>> = ${JSON.stringify(exampleTexts(), null, 2)};\n`,
  );
