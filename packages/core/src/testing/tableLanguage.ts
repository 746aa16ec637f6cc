/**
 * A language of tests alone: a title, then what comes out at −1 … 1 for what goes in, in even steps, a line each way.
 * `Bent corner` / `-0.5 -0.4 0 0.4 0.5`.
 */
import type { StageLanguage } from '../stages/language.ts';
import { InputError } from '../model/errors.ts';
import { ratio } from '../params/params.ts';
import { defineLiveStage } from '../stages/contract.ts';

interface Said {
  readonly title: string;
  readonly table: readonly number[];
}

export const tableLanguage: StageLanguage = {
  name: 'table',
  read(source): Said {
    const [title, row = ''] = source.split('\n');
    const table = row.split(' ').map(Number);
    if (table.length < 2 || table.some((entry) => !Number.isFinite(entry)))
      throw new InputError(`Line 2 is "${row}"; at least two numbers are allowed.`);
    return { title, table };
  },
  stage(said) {
    const { title, table } = said as Said;
    return defineLiveStage({
      kind: 'script',
      family: 'drive',
      title,
      summary: `Bends each sample by a table of ${table.length} numbers.`,
      keywords: ['crooked'],
      mixLaw: 'linear',
      params: { push: ratio({ default: 1, max: 4, doc: 'How far into the table the sound is pushed.' }) },
      tailSeconds: () => 0,
      create: () => ({
        memoryFrames: 0,
        reset: () => undefined,
        process(input, output, frames, { push }) {
          for (let c = 0; c < output.length; c++)
            for (let i = 0; i < frames; i++) {
              const pushed = input[c][i] * (push.start + ((push.end - push.start) * i) / frames);
              const place = ((Math.max(-1, Math.min(1, pushed)) + 1) / 2) * (table.length - 1);
              const at = Math.min(table.length - 2, Math.floor(place));
              output[c][i] = table[at] + (place - at) * (table[at + 1] - table[at]);
            }
        },
      }),
    });
  },
};
