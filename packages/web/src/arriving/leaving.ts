import type { ChainDocument } from '@hexenkessel/core/chain';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { saveFile } from '../files/saveFile.ts';

/** A chain as it stands in its file. */
const textOf = (chain: ChainDocument): string => `${JSON.stringify(chain, null, 2)}\n`;

export function downloadChain(chain: ChainDocument): void {
  saveFile(`${chain.name}.hxk.json`, textOf(chain), 'application/json');
}

/** `what`: as in “The chain is on the clipboard”. */
export async function copyChain(chain: ChainDocument, what: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(textOf(chain));
    tellDone('Copied', `${what} is on the clipboard as text, as it would be in a file.`);
  } catch {
    tellFailure('Not copied', 'The browser does not let the clipboard be written; download the file instead.');
  }
}
