import type { Catalogue } from '../catalogue/catalogue.ts';
import { FAMILY_TITLES, type Stage } from '../stages/contract.ts';
import { SCRIPT_KIND } from '../stages/language.ts';

/** Above everything that is found by less than its whole name. */
const WHOLE = 1000;

/**
 * What a script counts for beside what is built in: its title at most as much as a word of a built-in stage’s family.
 * Scripts are read while a person types already, and “backwards” shall add the same stage before and after.
 */
const SCRIPTS = 0.3;

/**
 * Stages that fit what a person typed, best first: by name, by the words people use for what they hear, by what the
 * summary says; built-in ones before scripts, unless a script’s whole title was typed. Everything, in its own order,
 * for an empty text.
 */
export function searchStages(catalogue: Catalogue, text: string): readonly Stage[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return catalogue.stages;
  const phrase = words.join(' ');
  return catalogue.stages
    .map((stage) => ({ stage, score: scoreOfAll(stage, words, phrase) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score)
    .map(({ stage }) => stage);
}

function scoreOfAll(stage: Stage, words: readonly string[], phrase: string): number {
  if (stage.title.toLowerCase() === phrase) return 2 * WHOLE;
  const weight = stage.kind === SCRIPT_KIND ? SCRIPTS : 1;
  // Several words that are one of the stage's own count for more than each by itself.
  if (words.length > 1 && stage.keywords.includes(phrase)) return WHOLE * weight;
  return words.reduce((sum, word) => sum * weight * scoreOf(stage, word), 1);
}

function scoreOf(stage: Stage, word: string): number {
  const title = stage.title.toLowerCase();
  if (title.startsWith(word)) return 8;
  if (stage.kind.toLowerCase() === word) return 7;
  if (stage.keywords.some((keyword) => keyword === word)) return 6;
  if (stage.keywords.some((keyword) => keyword.split(/[ -]/).some((part) => part.startsWith(word)))) return 4;
  if (partsOf(FAMILY_TITLES[stage.family]).some((part) => part.startsWith(word))) return 3;
  if (title.includes(word)) return 2;
  return stage.summary.toLowerCase().includes(word) ? 1 : 0;
}

const partsOf = (text: string) => text.toLowerCase().split(/[^\p{L}\p{N}]+/u);

/** Letters by which a word may differ from the one that was meant. */
const MISTYPED = 2;

/** The word of a title or keyword that is nearest to a word that finds nothing; undefined where none is near. */
export function didYouMean(catalogue: Catalogue, text: string): string | undefined {
  const typed = text.trim().toLowerCase();
  if (typed.length < 3) return undefined;
  const known = new Set(catalogue.stages.flatMap(({ title, keywords }) => [title.toLowerCase(), ...keywords]));
  const all = [...known].flatMap((word) => [word, ...partsOf(word)]).filter((word) => word.length > 2);
  const allowed = Math.min(MISTYPED, Math.floor(typed.length / 3));
  const near = all
    .map((word) => ({ word, distance: editDistance(typed, word) }))
    .filter(({ distance }) => distance > 0 && distance <= allowed)
    .sort((a, b) => a.distance - b.distance);
  return near[0]?.word;
}

/** Letters to put in, leave out, exchange or swap with their neighbour (Damerau 1964). */
function editDistance(from: string, to: string): number {
  const rows = [Array.from({ length: to.length + 1 }, (_, n) => n)];
  for (let i = 1; i <= from.length; i++) {
    rows.push([i]);
    for (let j = 1; j <= to.length; j++) {
      const same = from[i - 1] === to[j - 1];
      rows[i][j] = Math.min(rows[i - 1][j] + 1, rows[i][j - 1] + 1, rows[i - 1][j - 1] + (same ? 0 : 1));
      if (i > 1 && j > 1 && from[i - 1] === to[j - 2] && from[i - 2] === to[j - 1])
        rows[i][j] = Math.min(rows[i][j], rows[i - 2][j - 2] + 1);
    }
  }
  return rows[from.length][to.length];
}
