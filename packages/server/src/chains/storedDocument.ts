import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { parseChain, type ChainDocument } from '@hexenkessel/core/chain';

/** A chain document as it lies in the database. InputError when it cannot be read, whatever has become of it. */
export function readStored(text: string): ChainDocument {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new InputError('This chain cannot be opened. What is stored of it is no JSON.');
  }
  return parseChain(BUILT_INS, json);
}

/** The same, or why it cannot be read. */
export function tryStored(text: string): { readonly document: ChainDocument } | { readonly fault: string } {
  try {
    return { document: readStored(text) };
  } catch (error) {
    if (error instanceof InputError) return { fault: error.message };
    throw error;
  }
}
