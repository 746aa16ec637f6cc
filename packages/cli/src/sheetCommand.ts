import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { basename, dirname, extname, join } from 'node:path';
import { Command, Option } from 'commander';
import { OutlineStream, outlineOf, type Outline } from '@hexenkessel/core/analysis';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { Clip } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { finishRender, renderChain, ClipCache, type TapWatch } from '@hexenkessel/core/engine';
import type { SoundReader } from '@hexenkessel/core/formats';
import {
  SHEET_FONTS,
  cascadeSvg,
  fontFace,
  sheetHtml,
  sheetMarkdown,
  sheetOf,
  sheetRows,
  type SheetRow,
} from '@hexenkessel/core/sheet';
import { readChainFile, withSoundFile } from './files.ts';
import { checkOutput, writeWhole } from './output.ts';
import { isStandard, refuseSharedInput, toStandardOutput } from './streams.ts';

interface SheetOptions {
  readonly chain: string;
  readonly out: string;
  readonly in?: string;
  readonly format?: Kind;
}

const KINDS = ['md', 'html'] as const;
type Kind = (typeof KINDS)[number];

const EXAMPLES = `
Examples:
  $ hexenkessel sheet --chain tide.hxk.json --in take.wav --out tide.html
  $ hexenkessel sheet --chain tide.hxk.json --out - | less`;

export function sheetCommand(): Command {
  return new Command('sheet')
    .description('Writes the sheet of a chain: Markdown with its picture beside it, or one HTML file.')
    .requiredOption('--chain <file>', 'chain file (.hxk.json); - reads it from standard input')
    .requiredOption('--out <file>', 'file to write: .md or .html; - is standard output')
    .option('--in <file>', 'sound whose Cascade is shown; - is standard input')
    .addOption(new Option('--format <kind>', 'what is sent to standard output; else md').choices(KINDS))
    .addHelpText('after', EXAMPLES)
    .action(writeSheet);
}

async function writeSheet(options: SheetOptions): Promise<void> {
  const { out } = options;
  refuseSharedInput([options.chain, options.in ?? '']);
  if (!isStandard(out))
    await checkOutput(
      out,
      KINDS.map((kind) => `.${kind}`),
    );
  const kind = isStandard(out) ? (options.format ?? 'md') : (extname(out).slice(1).toLowerCase() as Kind);
  const picture = kind === 'md' && !isStandard(out) && options.in !== undefined ? besides(out) : undefined;
  if (picture !== undefined) await checkOutput(picture, ['.svg']);
  const chain = await readChainFile(options.chain);
  const rows = options.in === undefined ? [] : await withSoundFile(options.in, (reader) => rowsOf(chain, reader));
  const sheet = sheetOf(BUILT_INS, chain, rows, rows.length > 0 ? { sampleRate: rows[0].sampleRate } : {});
  const text =
    kind === 'html' ? sheetHtml(sheet, await readFonts()) : sheetMarkdown(sheet, picture && basename(picture));
  if (picture !== undefined) await writeText(picture, cascadeSvg(sheet.rows, sheet.timing));
  if (isStandard(out)) {
    await toStandardOutput(`.${kind}`, (file) => writeText(file, text));
    return;
  }
  await writeText(out, text);
  console.log(picture === undefined ? out : `${out}, ${picture}`);
}

const writeText = (path: string, text: string) => writeWhole(path, [new TextEncoder().encode(text)]);

/** The file beside a sheet that its picture is in. */
const besides = (out: string) => join(dirname(out), `${basename(out, extname(out))}.svg`);

/** The fonts that a sheet in HTML brings along. */
function readFonts(): Promise<string[]> {
  const { resolve } = createRequire(import.meta.url);
  return Promise.all(SHEET_FONTS.map(async (font) => fontFace(font, await readFile(resolve(font.file), 'base64'))));
}

async function rowsOf(chain: ChainDocument, reader: SoundReader): Promise<SheetRow[]> {
  const source = await reader.readClip();
  const [after, result] = outlines(chain, source);
  return sheetRows(BUILT_INS, chain, reader, { source: outlineOf(source), after, result });
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
