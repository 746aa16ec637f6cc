import { Command } from 'commander';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { finishRender, renderChain, ClipCache } from '@hexenkessel/core/engine';
import { sheetHtml, sheetMarkdown, sheetOf, sheetRows, type SheetRow } from '@hexenkessel/core/sheet';
import { readChainFile, withSoundFile } from './files.ts';
import { checkOutput, writeWhole } from './output.ts';

export function sheetCommand(): Command {
  return new Command('sheet')
    .description('Writes the sheet of a chain: Markdown, or one HTML file when the name ends in .html.')
    .requiredOption('--chain <file>', 'chain file (.hxk.json)')
    .requiredOption('--out <file>', 'file to write: .md or .html')
    .option('--in <file>', 'WAV file whose Cascade is shown')
    .action(async (options: { chain: string; out: string; in?: string }) => {
      await checkOutput(options.out, ['.md', '.html']);
      const chain = await readChainFile(options.chain);
      let rows: SheetRow[] = [];
      if (options.in !== undefined) {
        rows = await withSoundFile(options.in, async (reader) => {
          const source = await reader.readClip();
          const stages = new Map<number, Clip>();
          const cache = new ClipCache(Infinity);
          const render = finishRender(renderChain(BUILT_INS, { chain, source, cache, sourceKey: 'in' }), (step) => {
            if (step.type === 'stage') stages.set(step.index, step.clip);
          });
          return sheetRows(BUILT_INS, chain, source, stages, render);
        });
      }
      const sheet = sheetOf(BUILT_INS, chain, rows, rows.length > 0 ? { sampleRate: rows[0].sampleRate } : {});
      const text = options.out.toLowerCase().endsWith('.html') ? sheetHtml(sheet) : sheetMarkdown(sheet);
      await writeWhole(options.out, [new TextEncoder().encode(text)]);
    });
}
