/** A test build of the audio thread: what is built in, and a language that only tests know. */
import { BUILT_INS, Catalogue } from '@hexenkessel/core/stages';
import { tableLanguage } from '../packages/core/src/testing/tableLanguage.ts';
import { registerEngine } from '../packages/web/src/playback/engineProcessor.ts';

registerEngine(
  new Catalogue({ stages: BUILT_INS.stages, heads: [BUILT_INS.headOf({ kind: 'clip' })], languages: [tableLanguage] }),
);
