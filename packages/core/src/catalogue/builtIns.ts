import { clipHead } from '../heads/clip/clip.ts';
import { STAGES } from '../stages/builtin/index.ts';
import { SCRIPTS } from '../script/scriptLanguage.ts';
import { Catalogue } from './catalogue.ts';

/** What the program itself brings. */
export const BUILT_INS = new Catalogue({ stages: STAGES, heads: [clipHead], languages: [SCRIPTS] });
