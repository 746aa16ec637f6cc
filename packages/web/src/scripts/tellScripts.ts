import { BUILT_INS } from '@hexenkessel/core/stages';
import { scriptTitles, type ChainDocument } from '@hexenkessel/core/chain';
import { tellDone } from '../app/toaster.tsx';

/** Says that a chain that has come brings scripts, which run when it is played. */
export function tellScripts(document: ChainDocument): void {
  const titles = scriptTitles(BUILT_INS, document);
  if (titles.length === 0) return;
  tellDone(
    `${document.name} brings ${titles.length === 1 ? '1 script' : `${titles.length} scripts`}`,
    `${titles.join(', ')}. They run when the chain is played or rendered, and can reach nothing but the sound.`,
  );
}
