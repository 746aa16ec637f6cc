import type { Knex } from 'knex';
import type { ChainDocument } from '@hexenkessel/core/chain';
import type { ChainEntry, ChainName, ChainState } from '@hexenkessel/core/protocol';
import { newId, now } from '../database/identity.ts';
import { readPage, wordsOf, type Page, type PageQuery } from '../http/pages.ts';
import { Problem } from '../http/problem.ts';
import type { ChainIndex, SummaryRow } from './chainIndex.ts';
import { readStored, tryStored } from './storedDocument.ts';

interface ChainRow {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly created_at: string;
  readonly updated_at: string;
  readonly deleted_at: string | null;
}

interface VersionRow {
  readonly id: string;
  readonly chain_id: string;
  readonly number: number;
  readonly document: string;
  readonly why: string;
  readonly created_at: string;
}

/** What chains are sorted by. */
export const CHAIN_SORTS = ['changed', 'name', 'category', 'character', 'tags', 'rating', 'tempo', 'version'] as const;
type ChainSort = (typeof CHAIN_SORTS)[number];

/** Lists are sorted by their first word. */
const firstOf = (column: string) => `fold(ltrim(summaries.${column}, '["]'))`;
const CHAIN_ORDERS: Readonly<Record<ChainSort, string>> = {
  changed: 'chains.updated_at',
  name: 'fold(chains.name)',
  category: 'fold(summaries.kind)',
  character: firstOf('character'),
  tags: firstOf('tags'),
  rating: 'summaries.rating',
  tempo: 'summaries.tempo',
  version: 'coalesce(summaries.version, 0)',
};

interface ChainQuery extends PageQuery<ChainSort> {
  readonly ids?: readonly string[] | undefined;
  readonly readable?: boolean | undefined;
}

/** All that lies in the database of a chain. */
interface StoredChain {
  readonly row: ChainRow;
  readonly draft: string | undefined;
  readonly versions: readonly VersionRow[];
}

/** The version that a document equals, or the one it was changed from. */
export interface Provenance {
  readonly versionId: string | null;
  /** In words: `version 3`, `version 3, changed`, `unsaved`. */
  readonly label: string;
}

/**
 * Chains, their versions and drafts. Versions are added and never changed. Every save names the revision it is based on;
 * when another window has saved meanwhile it is refused with the other's state, and nothing is lost.
 */
export class Chains {
  private readonly database: Knex;
  private readonly index: ChainIndex;

  constructor(database: Knex, index: ChainIndex) {
    this.database = database;
    this.index = index;
  }

  /** The chain changed last first, where no other order is asked for; one that cannot be read is among them, with why. */
  async list({ sort = '-changed', find = '', ids, readable, ...page }: ChainQuery): Promise<Page<ChainEntry>> {
    await this.index.refresh();
    const query = this.summaries();
    for (const word of wordsOf(find)) query.whereRaw('instr(summaries.words, ?) > 0', ` ${word}`);
    if (ids) query.whereIn('chains.id', ids);
    if (readable) query.whereNull('summaries.fault');
    const desc = sort.startsWith('-');
    const by = CHAIN_ORDERS[(desc ? sort.slice(1) : sort) as ChainSort];
    const { items, ...rest } = await readPage<ChainRow & SummaryRow>(query, { by, id: 'chains.id', desc }, page);
    return { ...rest, items: items.map(toEntry) };
  }

  /** What all that can be read are called, the one changed last first. */
  async names(): Promise<ChainName[]> {
    await this.index.refresh();
    return this.database('chains')
      .join('chain_summaries as summaries', 'summaries.chain_id', 'chains.id')
      .whereNull('chains.deleted_at')
      .whereNull('summaries.fault')
      .orderBy('chains.updated_at', 'desc')
      .orderBy('chains.id', 'desc')
      .select('chains.id', 'chains.name');
  }

  private summaries() {
    return this.database('chains')
      .join('chain_summaries as summaries', 'summaries.chain_id', 'chains.id')
      .whereNull('chains.deleted_at')
      .select('chains.*', 'summaries.*');
  }

  /** How many there are. */
  async count(): Promise<number> {
    const [{ n }] = await this.database('chains').whereNull('deleted_at').count({ n: '*' });
    return Number(n);
  }

  /** Problem 404 when there is none, InputError when it cannot be read. */
  async get(id: string, source: Knex = this.database): Promise<ChainState> {
    const { row, draft, versions } = await this.stored(id, source);
    return {
      id,
      revision: row.revision,
      document: readStored(draft ?? versions[0]?.document ?? ''),
      unsaved: draft !== undefined,
      versions: versions.map(({ number, why, created_at }) => ({ number, why, createdAt: created_at })),
    };
  }

  /** A chain as it lies there, read or not; the newest version first. Problem 404 when there is none. */
  async stored(id: string, source: Knex = this.database): Promise<StoredChain> {
    const row = await source<ChainRow>('chains').where({ id }).whereNull('deleted_at').first();
    if (!row) throw new Problem(404, `There is no chain with the id ${id}.`);
    const versions = await source<VersionRow>('versions').where('chain_id', id).orderBy('number', 'desc');
    const draft = await source<{ chain_id: string; document: string }>('drafts').where('chain_id', id).first();
    return { row, versions, draft: draft?.document };
  }

  /** Deletes a chain that cannot be read. Renders keep what they say of it. Problem 409 for one that can. */
  async deleteUnreadable(id: string): Promise<void> {
    const { draft, versions } = await this.stored(id);
    if ('document' in tryStored(draft ?? versions[0]?.document ?? ''))
      throw new Problem(409, 'This chain can be read; only one that cannot is deleted here.');
    await this.database.transaction(async (transaction) => {
      await transaction('drafts').where({ chain_id: id }).delete();
      await transaction('desks').where({ chain_id: id }).delete();
      if ((await transaction('renders').where({ chain_id: id }).first('id')) === undefined) {
        await transaction('versions').where({ chain_id: id }).delete();
        await transaction('chains').where({ id }).delete();
      } else await transaction('chains').where({ id }).update({ deleted_at: now() });
    });
  }

  /** The chain as it is now. Problem 409 with its state when that is another revision. */
  async atRevision(id: string, revision: number | undefined): Promise<ChainDocument> {
    const current = await this.get(id);
    if (current.revision !== revision)
      throw new Problem(
        409,
        `This chain is at revision ${current.revision} by now; asked for was ${revision}. Look at it as it is and ask again.`,
        { current },
      );
    return current.document;
  }

  async version(id: string, number: number): Promise<ChainDocument> {
    const row = await this.database<VersionRow>('versions').where({ chain_id: id, number }).first();
    if (!row) throw new Problem(404, `The chain has no version ${number}.`);
    return readStored(row.document);
  }

  /** A new chain that has no version yet. Problem 409 with what is there when the id is taken. */
  async create(document: ChainDocument, id = newId()): Promise<ChainState> {
    if (await this.database('chains').where({ id }).first())
      throw new Problem(409, 'There is a chain of this id already.', { current: await this.get(id) });
    await this.database.transaction(async (transaction) => {
      const at = now();
      await transaction('chains').insert({ id, name: document.name, revision: 1, created_at: at, updated_at: at });
      await transaction('drafts').insert({ chain_id: id, document: JSON.stringify(document), updated_at: at });
      await this.index.refresh(transaction);
    });
    return this.get(id);
  }

  /** A new chain with a first version and no draft, within a transaction. */
  async addKept(document: ChainDocument, why: string, transaction: Knex.Transaction): Promise<void> {
    const id = newId();
    const at = now();
    await transaction('chains').insert({ id, name: document.name, revision: 1, created_at: at, updated_at: at });
    await transaction('versions').insert({
      id: newId(),
      chain_id: id,
      number: 1,
      document: JSON.stringify(document),
      why,
      created_at: at,
    });
    await this.index.refresh(transaction);
  }

  /** Keeps what is being worked on. Problem 409 with the state now when `revision` is no longer the newest. */
  async saveDraft(id: string, revision: number, document: ChainDocument): Promise<ChainState> {
    return this.save(id, revision, document, async (transaction, at) => {
      await transaction('drafts')
        .insert({ chain_id: id, document: JSON.stringify(document), updated_at: at })
        .onConflict('chain_id')
        .merge();
    });
  }

  /** Keeps a version for good, with a line on why. Problem 409 as with drafts. */
  async saveVersion(id: string, revision: number, document: ChainDocument, why: string): Promise<ChainState> {
    return this.save(id, revision, document, async (transaction, at) => {
      const last = await transaction<VersionRow>('versions').where({ chain_id: id }).max({ number: 'number' }).first();
      await transaction('versions').insert({
        id: newId(),
        chain_id: id,
        number: Number((last as { number: number | null } | undefined)?.number ?? 0) + 1,
        document: JSON.stringify(document),
        why,
        created_at: at,
      });
      await transaction('drafts').where({ chain_id: id }).delete();
    });
  }

  /** Which version a document is, for the lineage of a render. */
  async provenance(id: string, document: ChainDocument): Promise<Provenance> {
    const text = JSON.stringify(document);
    const versions = await this.database<VersionRow>('versions').where({ chain_id: id }).orderBy('number', 'desc');
    const same = versions.find((version) => {
      const read = tryStored(version.document);
      return 'document' in read && JSON.stringify(read.document) === text;
    });
    if (same) return { versionId: same.id, label: `version ${same.number}` };
    return { versionId: null, label: versions.length > 0 ? `version ${versions[0].number}, changed` : 'unsaved' };
  }

  private async save(
    id: string,
    revision: number,
    document: ChainDocument,
    write: (transaction: Knex.Transaction, at: string) => Promise<void>,
  ): Promise<ChainState> {
    await this.database.transaction(async (transaction) => {
      const at = now();
      const changed = await transaction('chains')
        .where({ id, revision })
        .whereNull('deleted_at')
        .update({ name: document.name, revision: revision + 1, updated_at: at });
      if (changed === 0) {
        const current = await this.get(id, transaction);
        throw new Problem(
          409,
          'This chain was changed in another window meanwhile. Both are saved; choose what to go on with.',
          { current },
        );
      }
      await write(transaction, at);
      await this.index.refresh(transaction);
    });
    return this.get(id);
  }
}

function toEntry(row: ChainRow & SummaryRow): ChainEntry {
  const list = (text: string) => JSON.parse(text) as string[];
  return {
    id: row.id,
    name: row.name,
    summary: row.summary,
    kind: row.kind,
    character: list(row.character),
    tags: list(row.tags),
    rating: row.rating,
    tempo: row.tempo,
    stages: list(row.stages),
    contains: list(row.contains),
    version: row.version,
    unsaved: Boolean(row.unsaved),
    updatedAt: row.updated_at,
    fault: row.fault,
  };
}
