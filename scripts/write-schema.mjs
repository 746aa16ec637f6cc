// Writes the JSON Schema of chain files, which other programs may check against, from the code's own schema.
import { writeFileSync } from 'node:fs';
import { chainJsonSchema } from '../packages/core/dist/doors/chain.js';
import { BUILT_INS } from '../packages/core/dist/doors/stages.js';

writeFileSync(
  new URL('../docs/chain.schema.json', import.meta.url),
  `${JSON.stringify(chainJsonSchema(BUILT_INS), null, 1)}\n`,
);
