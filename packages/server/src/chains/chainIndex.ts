import type { Knex } from 'knex';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { allStages, stageTitle, type ChainDocument } from '@hexenkessel/core/chain';
import { soundUses } from '@hexenkessel/core/engine';
import { wordsOf } from '../http/pages.ts';
import { tryStored } from './storedDocument.ts';

/** The number under which a draft stands beside the versions. */
const DRAFT = 0;
/** Documents that are read in one go; then others have their turn. */
const AT_ONCE = 20;

interface StaleRow {
  readonly chain_id: string;
  readonly number: number;
}

type Read = ReturnType<typeof tryStored>;
/** Reads a document once, however often it is asked for. */
type Reader = (text: string) => Read;

/** A chain without its documents, for a list. Lists are JSON. */
export interface SummaryRow {
  readonly chain_id: string;
  readonly summary: string;
  readonly kind: string;
  readonly character: string;
  readonly tags: string;
  readonly stages: string;
  readonly contains: string;
  readonly rating: number;
  readonly tempo: number;
  readonly version: number | null;
  readonly unsaved: number | boolean;
  readonly fault: string | null;
  /** What it is found by: lower-case words, a space before each. */
  readonly words: string;
}

/**
 * What lists and questions need of chains, in tables: their summaries, and which sounds their documents name. It is brought
 * up to date with every save; what was written past this program is caught up with before it is asked.
 */
export class ChainIndex {
  private readonly database: Knex;

  constructor(database: Knex) {
    this.database = database;
  }

  /** Everything is read anew, such as by a program that calls its stages otherwise. */
  async forget(): Promise<void> {
    await this.database.raw(
      'INSERT OR IGNORE INTO stale_documents SELECT chain_id, number FROM versions UNION ALL SELECT chain_id, 0 FROM drafts',
    );
  }

  /** Brings it up to date, within `transaction` if given. */
  async refresh(transaction?: Knex.Transaction): Promise<void> {
    for (;;) {
      const read = transaction
        ? await this.readSome(transaction)
        : await this.database.transaction((within) => this.readSome(within));
      if (read < AT_ONCE) return;
      await new Promise(setImmediate);
    }
  }

  private async readSome(database: Knex.Transaction): Promise<number> {
    const stale = await database<StaleRow>('stale_documents').limit(AT_ONCE);
    const known = new Map<string, Read>();
    const read = (text: string) => known.get(text) ?? known.set(text, tryStored(text)).get(text)!;
    for (const row of stale) {
      await this.noteUses(database, row, read);
      await database('stale_documents').where(row).delete();
    }
    for (const id of new Set(stale.map(({ chain_id }) => chain_id))) await this.summarise(database, id, read);
    return stale.length;
  }

  /** Notes which sounds a document names; of one that cannot be read, that nobody knows. */
  private async noteUses(database: Knex.Transaction, { chain_id, number }: StaleRow, readText: Reader): Promise<void> {
    await database('sound_uses').where({ chain_id, number }).delete();
    const text = await documentOf(database, chain_id, number);
    if (text === undefined) return;
    const read = readText(text);
    const named =
      'fault' in read
        ? [{ name: null, sha256: null }]
        : soundUses(BUILT_INS, read.document).map(({ ref }) => ({ name: ref.sound, sha256: ref.sha256 ?? null }));
    const rows = [...new Map(named.map((one) => [JSON.stringify(one), { chain_id, number, ...one }])).values()];
    if (rows.length > 0) await database('sound_uses').insert(rows);
  }

  private async summarise(database: Knex.Transaction, id: string, read: Reader): Promise<void> {
    const chain = (await database('chains').where({ id }).first('name')) as { name: string } | undefined;
    if (!chain) {
      await database('chain_summaries').where({ chain_id: id }).delete();
      return;
    }
    const newest = (await database('versions').where({ chain_id: id }).max({ number: 'number' }).first()) as {
      number: number | null;
    };
    const draft = await documentOf(database, id, DRAFT);
    const text = draft ?? (newest.number === null ? '' : await documentOf(database, id, newest.number));
    const row: SummaryRow = {
      chain_id: id,
      ...summaryOf(chain.name, read(text ?? '')),
      version: newest.number,
      unsaved: draft !== undefined,
    };
    await database('chain_summaries').insert(row).onConflict('chain_id').merge();
  }
}

async function documentOf(database: Knex, chainId: string, number: number): Promise<string | undefined> {
  const row = (await (number === DRAFT
    ? database('drafts').where({ chain_id: chainId }).first('document')
    : database('versions').where({ chain_id: chainId, number }).first('document'))) as { document: string } | undefined;
  return row?.document;
}

function summaryOf(name: string, read: Read): Omit<SummaryRow, 'chain_id' | 'version' | 'unsaved'> {
  if ('fault' in read) {
    const empty = { character: '[]', tags: '[]', stages: '[]', contains: '[]' };
    return { summary: '', kind: '', ...empty, rating: 0, tempo: 120, fault: read.fault, words: joined([name]) };
  }
  const { about, stages, timing } = read.document;
  const contains = containedIn(read.document);
  return {
    summary: about.summary,
    kind: about.kind,
    character: JSON.stringify(about.character),
    tags: JSON.stringify(about.tags),
    stages: JSON.stringify(stages.map((stage) => stageTitle(BUILT_INS.for(read.document), stage))),
    contains: JSON.stringify(contains),
    rating: about.rating,
    tempo: timing.tempo,
    fault: null,
    words: joined([name, about.summary, about.kind, ...about.character, ...about.tags, ...contains]),
  };
}

const joined = (texts: readonly string[]) =>
  wordsOf(texts.join(' '))
    .map((word) => ` ${word}`)
    .join('');

function containedIn(document: ChainDocument): string[] {
  const catalogue = BUILT_INS.for(document);
  const words = allStages(document.stages).flatMap(({ stage }) => [
    stageTitle(catalogue, stage),
    catalogue.of(stage).title,
    stage.kind,
  ]);
  return [...new Set(words)];
}
