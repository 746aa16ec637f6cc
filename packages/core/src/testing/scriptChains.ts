/** Chains of a script of one's own. */
import { BUILT_INS } from '../catalogue/builtIns.ts';
import { emptyChain, parseChain } from '../chain/validate.ts';

/** What a script says of itself, with these settings. */
export const header = (params: string, more = '') => `export const language = 1;
export const title = 'Trial';
export const family = 'time';
export const summary = 'A trial.';
export const params = { ${params} };
${more}`;
export const AMOUNT = "amount: ratio({ default: 0.5, doc: 'How loud it is.' })";

/** A chain of one script. */
export function chainOf(text: string, more: object = {}, stage: object = {}) {
  return parseChain(BUILT_INS, {
    ...emptyChain(BUILT_INS, 'Own'),
    stages: [{ id: 'own', kind: 'script', script: 'trial', ...stage }],
    scripts: [{ id: 'trial', language: 'hexenkessel', text }],
    ...more,
  });
}
