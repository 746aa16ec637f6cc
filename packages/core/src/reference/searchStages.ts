import type { Catalogue } from '../catalogue/catalogue.ts';
import type { Stage } from '../stages/contract.ts';

/**
 * Stages that fit what a person typed, best first: by name, by the words people use for what they hear, by what the
 * summary says. Everything, in its own order, for an empty text.
 */
export function searchStages(catalogue: Catalogue, text: string): readonly Stage[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  if (words.length === 0) return catalogue.stages;
  const phrase = words.join(' ');
  return catalogue.stages
    .map((stage) => ({
      stage,
      // Several words that are one of the stage's own count for more than each by itself.
      score:
        words.length > 1 && stage.keywords.includes(phrase)
          ? 1000
          : words.reduce((sum, word) => sum * scoreOf(stage, word), 1),
    }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score)
    .map(({ stage }) => stage);
}

function scoreOf(stage: Stage, word: string): number {
  const title = stage.title.toLowerCase();
  if (title.startsWith(word)) return 8;
  if (stage.keywords.some((keyword) => keyword === word)) return 6;
  if (stage.keywords.some((keyword) => keyword.split(' ').some((part) => part.startsWith(word)))) return 4;
  if (stage.family.startsWith(word)) return 3;
  if (title.includes(word)) return 2;
  return stage.summary.toLowerCase().includes(word) ? 1 : 0;
}
