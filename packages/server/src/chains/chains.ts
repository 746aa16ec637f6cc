import type { Knex } from 'knex';
import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { allStages, stageTitle, type ChainDocument } from '@hexenkessel/core/chain';
import type { ChainEntry, ChainState } from '@hexenkessel/core/protocol';
import { newId, now } from '../database/identity.ts';
import { Problem } from '../http/problem.ts';
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

  constructor(database: Knex) {
    this.database = database;
  }

  /** The chain changed last first; one that cannot be read is among them, with why. */
  async list(): Promise<ChainEntry[]> {
    const rows = await this.database<ChainRow>('chains')
      .whereNull('deleted_at')
      .orderBy('updated_at', 'desc')
      .orderBy('id', 'desc');
    return Promise.all(
      rows.map(async (row) => {
        try {
          return toEntry(row, await this.get(row.id));
        } catch (error) {
          if (!(error instanceof InputError)) throw error;
          return faultyEntry(row, await this.stored(row.id), error.message);
        }
      }),
    );
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
    });
    return this.get(id);
  }
}

function toEntry(row: ChainRow, { document, versions, unsaved }: ChainState): ChainEntry {
  const { summary, kind, character, tags, rating } = document.about;
  return {
    id: row.id,
    name: document.name,
    summary,
    kind,
    character: [...character],
    tags: [...tags],
    rating,
    tempo: document.timing.tempo,
    stages: document.stages.map((stage) => stageTitle(BUILT_INS.for(document), stage)),
    contains: containedIn(document),
    version: versions[0]?.number ?? null,
    unsaved,
    updatedAt: row.updated_at,
    fault: null,
  };
}

function containedIn(document: ChainDocument): string[] {
  const catalogue = BUILT_INS.for(document);
  const words = allStages(document.stages).flatMap(({ stage }) => [
    stageTitle(catalogue, stage),
    catalogue.of(stage).title,
    stage.kind,
  ]);
  return [...new Set(words)];
}

function faultyEntry(row: ChainRow, { draft, versions }: StoredChain, fault: string): ChainEntry {
  return {
    id: row.id,
    name: row.name,
    summary: '',
    kind: '',
    character: [],
    tags: [],
    rating: 0,
    tempo: 120,
    stages: [],
    contains: [],
    version: versions[0]?.number ?? null,
    unsaved: draft !== undefined,
    updatedAt: row.updated_at,
    fault,
  };
}
