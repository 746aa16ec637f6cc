// Writes the page on how much louder each stage may make a sound, from what the stages declare.
import { writeFileSync } from 'node:fs';
import { BUILT_INS, loudnessTable } from '../packages/core/dist/doors/stages.js';

writeFileSync(new URL('../docs/loudness.md', import.meta.url), loudnessTable(BUILT_INS));
