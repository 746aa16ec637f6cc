/** Checks what an edit has made of a legal document: what it shares with the one before is not looked at again. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import { sameValue } from '../model/sharing.ts';
import { applyPanel } from './panel.ts';
import { LIST_LIMITS, documentSchema, type ChainDocument } from './schema.ts';
import { settleSettings } from './settleSettings.ts';
import type { Json } from './upgrade/json.ts';
import { documentFaults, fillBranches, parseChain, refuseOversize } from './validate.ts';

/**
 * The document after an edit, checked and filled in as `parseChain` does. `before` is one that it gave, never changed in
 * place; what both share by identity stays shared, and costs nothing. InputError as from `parseChain`.
 */
export function checkEdit(catalogue: Catalogue, before: ChainDocument, after: ChainDocument): ChainDocument {
  if (after === before) return before;
  const chain = changedParts(catalogue, before, after);
  // Faults are rare and told in full.
  if (!chain || documentFaults(catalogue, chain).length > 0) return parseChain(catalogue, after);
  return applyPanel(catalogue, chain);
}

/** The document with its new parts filled in; undefined when something is wrong with one. */
function changedParts(catalogue: Catalogue, before: ChainDocument, after: ChainDocument): ChainDocument | undefined {
  const { scripts } = after;
  if (
    refuseOversize(after) ||
    (Object.entries(LIST_LIMITS) as [keyof typeof LIST_LIMITS, number][]).some(
      ([key, most]) => after[key].length > most,
    )
  )
    return undefined;
  // Scripts say what a stage is; with others, all stages are looked at.
  const known = scripts === before.scripts ? before : { ...before, stages: [] };
  const fresh = { ...freshParts(known, after), scripts };
  const settled = settleSettings(catalogue, fresh as unknown as Json);
  if (settled.faults.length > 0) return undefined;
  const parsed = documentSchema().safeParse(settled.json);
  if (!parsed.success) return undefined;
  const filled = parsed.data as unknown as Record<string, unknown>;
  const parts = Object.entries(fresh).map(([key, part]) => [key, joined(part, filled[key], valueIn(after, key))]);
  return fillBranches(catalogue, { ...after, ...(Object.fromEntries(parts) as Partial<ChainDocument>) });
}

/** What of the document is new: whole parts, and of its lists the new entries. */
function freshParts(before: ChainDocument, after: ChainDocument): Record<string, unknown> {
  const { format, version, name } = after;
  const fresh: Record<string, unknown> = { format, version, name };
  for (const [key, part] of Object.entries(after)) {
    const old = valueIn(before, key);
    if (part === old) continue;
    fresh[key] = key in LIST_LIMITS && isList(part) && isList(old) ? without(part, new Set(old)) : part;
  }
  return fresh;
}

const isList = (part: unknown): part is readonly unknown[] => Array.isArray(part);
const valueIn = (chain: ChainDocument, key: string): unknown => (chain as unknown as Record<string, unknown>)[key];
const without = (list: readonly unknown[], known: ReadonlySet<unknown>) =>
  list.filter((entry) => typeof entry !== 'object' || !known.has(entry));

/** A part as it comes out of the check: itself where nothing was filled in, a list with its checked entries in place. */
function joined(fresh: unknown, checked: unknown, whole: unknown): unknown {
  if (!isList(whole) || !isList(fresh) || !isList(checked)) return sameValue(checked, whole) ? whole : checked;
  const changed = new Map(fresh.map((entry, n) => [entry, sameValue(checked[n], entry) ? entry : checked[n]]));
  const list = whole.map((entry) => (changed.has(entry) ? changed.get(entry) : entry));
  return list.every((entry, n) => entry === whole[n]) ? whole : list;
}
