// Writes packages/core/src/script/mathSource.ts: the mathematics of scripts as text, from the same files that the core is built
// of, without their types. Run it with `node scripts/write-math.mjs`; a test says when that is due.
import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

const core = new URL('../packages/core/src/', import.meta.url);
const FILES = ['dsp/portableMath.ts', 'script/scriptMath.ts'];

/** The text of the functions, as a script would have them. */
export function mathSource() {
  return FILES.map((file) => {
    const { outputText } = ts.transpileModule(readFileSync(new URL(file, core), 'utf8'), {
      compilerOptions: { target: 'ES2022', module: 'ESNext', removeComments: true },
    });
    return outputText.replace(/^import .*\n/gm, '').replace(/^export /gm, '');
  }).join('');
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  writeFileSync(
    new URL('script/mathSource.ts', core),
    `/** Written by scripts/write-math.mjs; not to be changed by hand. */\nexport const MATH_SOURCE = ${JSON.stringify(mathSource())};\n`,
  );
