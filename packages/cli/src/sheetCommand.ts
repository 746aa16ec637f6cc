import { Command } from 'commander';
import { OutlineStream, outlineOf, type Outline } from '@hexenkessel/core/analysis';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { finishRender, renderChain, ClipCache, type TapWatch } from '@hexenkessel/core/engine';
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
          const [after, result] = outlines(chain, source);
          return sheetRows(BUILT_INS, chain, reader, { source: outlineOf(source), after, result });
        });
      }
      const sheet = sheetOf(BUILT_INS, chain, rows, rows.length > 0 ? { sampleRate: rows[0].sampleRate } : {});
      const text = options.out.toLowerCase().endsWith('.html') ? sheetHtml(sheet) : sheetMarkdown(sheet);
      await writeWhole(options.out, [new TextEncoder().encode(text)]);
    });
}

/** What is drawn of each stage's output and of the render. No stage's output is held for it. */
function outlines(chain: ChainDocument, source: Clip): readonly [ReadonlyMap<number, Outline>, Outline] {
  const after = new Map<number, Outline>();
  const streams = new Map<string, OutlineStream>();
  const cache = new ClipCache(0);
  const watch: TapWatch = ({ key, origin, frames, channels }) => {
    const stream = new OutlineStream(origin, frames, channels);
    streams.set(key, stream);
    return (samples, from, to, at) => stream.take(samples, from, to, at);
  };
  const render = finishRender(renderChain(BUILT_INS, { chain, source, cache, sourceKey: 'in', watch }), (step) => {
    if (step.type !== 'stage') return;
    const outline = step.clip ? outlineOf(step.clip) : streams.get(step.key)?.finish();
    if (outline) after.set(step.index, outline);
  });
  return [after, outlineOf(render)];
}
