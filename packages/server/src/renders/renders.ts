import type { Knex } from 'knex';
import { chainFor, fillNameTemplate, regionInName, type ChainDocument } from '@hexenkessel/core/chain';
import { refuseRegion, type RegionRender } from '@hexenkessel/core/engine';
import type { Render, RenderOrder, Sound } from '@hexenkessel/core/protocol';
import type { Chains, Provenance } from '../chains/chains.ts';
import { readStored } from '../chains/storedDocument.ts';
import { newId, now } from '../database/identity.ts';
import { readPage, type Page, type PageQuery } from '../http/pages.ts';
import { Problem } from '../http/problem.ts';
import type { Sounds } from '../sounds/sounds.ts';

/** Renders that wait. */
const MOST_QUEUED = 10_000;

/** All but the document, which is long. */
const COLUMNS = [
  'id',
  'job_id',
  'source_id',
  'sound_id',
  'chain_id',
  'version_id',
  'version_label',
  'name',
  'region',
  'gave_up',
  'created_at',
].map((column) => `renders.${column}`);

interface RenderRow {
  readonly id: string;
  readonly job_id: string;
  readonly source_id: string;
  readonly sound_id: string | null;
  readonly chain_id: string;
  readonly version_id: string | null;
  readonly version_label: string;
  readonly name: string;
  readonly region: string | null;
  readonly gave_up: string | null;
  readonly created_at: string;
  readonly status: Render['status'];
  readonly progress: number;
  readonly error: string | null;
  readonly finished_at: string | null;
  readonly source_name: string;
  readonly chain_name: string;
}

interface RenderQuery extends Pick<PageQuery<never>, 'limit' | 'after'> {
  readonly chain?: string | undefined;
  readonly source?: string | undefined;
  readonly done?: boolean | undefined;
}

/** A render to be noted down: the chain as it is run, at its tempo. */
interface Noted {
  readonly source: Sound;
  readonly chainId: string;
  readonly document: ChainDocument;
  readonly region: RegionRender | undefined;
  readonly made: Provenance;
}

/** What has been, is being and will be rendered. Each keeps the chain exactly as it was asked for. */
export class Renders {
  private readonly database: Knex;
  private readonly sounds: Sounds;
  private readonly chains: Chains;

  constructor(database: Knex, sounds: Sounds, chains: Chains) {
    this.database = database;
    this.sounds = sounds;
    this.chains = chains;
  }

  /** The newest first. */
  async list({ chain, source, done, ...page }: RenderQuery): Promise<Page<Render>> {
    const query = this.query();
    if (chain !== undefined) query.where('renders.chain_id', chain);
    if (source !== undefined) query.where('renders.source_id', source);
    if (done !== undefined) query.where('jobs.status', done ? '=' : '<>', 'done');
    // Ids are in the order of time.
    const order = { by: 'renders.id', id: 'renders.id', desc: true };
    const { items, ...rest } = await readPage<RenderRow>(query, order, page);
    return { ...rest, items: items.map(fromRow) };
  }

  /** How many wait for their turn, and how many run. */
  async waiting(): Promise<{ readonly queued: number; readonly running: number }> {
    const rows = await this.database('jobs')
      .whereIn('status', ['queued', 'running'])
      .groupBy('status')
      .select<{ status: 'queued' | 'running'; n: number }[]>('status', this.database.raw('count(*) as n'));
    const of = (status: string) => Number(rows.find((row) => row.status === status)?.n ?? 0);
    return { queued: of('queued'), running: of('running') };
  }

  /** What is said of a render. Problem 404 when there is none. */
  async entry(id: string): Promise<Render> {
    return fromRow(await this.row(id));
  }

  /** The same with the chain it was asked for. InputError when that cannot be read. */
  async get(id: string): Promise<Render & { document: ChainDocument }> {
    return { ...(await this.entry(id)), document: readStored(await this.stored(id)) };
  }

  private async stored(id: string): Promise<string> {
    const row = await this.database<{ id: string; document: string }>('renders').where({ id }).first('document');
    return row?.document ?? '';
  }

  private async row(id: string): Promise<RenderRow> {
    const row = await this.query().where('renders.id', id).first();
    if (!row) throw new Problem(404, `There is no render with the id ${id}.`);
    return row;
  }

  /**
   * Notes down a render and its job, to be run when its turn comes. Problem 409 with the chain's state now when another
   * revision of it is asked for; InputError for a region outside the sound.
   */
  async add({ sourceId, chainId, revision, version, region }: RenderOrder): Promise<string> {
    const document =
      version === undefined
        ? await this.chains.atRevision(chainId, revision)
        : await this.chains.version(chainId, version);
    const source = await this.sounds.get(sourceId);
    const made = await this.chains.provenance(chainId, document);
    return this.note({ source, chainId, document: chainFor(document, source), region, made });
  }

  private async note({ source, chainId, document, region, made: { versionId, label } }: Noted): Promise<string> {
    if (region) refuseRegion(region.region, source.frames, source.sampleRate);
    const wanted = fillNameTemplate(document.render.name, {
      sound: source.name,
      chain: document.name,
      version: label,
      tempo: String(document.timing.tempo),
      ...(region ? { region: regionInName(region.region, source.sampleRate) } : {}),
    });
    const { queued } = await this.waiting();
    if (queued >= MOST_QUEUED)
      throw new Problem(
        429,
        `${queued} renders wait already, and no more are taken; wait until some are done, or cancel them.`,
      );
    const id = newId();
    await this.database.transaction(async (transaction) => {
      const at = now();
      const name = await freeName(transaction, wanted);
      await transaction('jobs').insert({ id, kind: 'render', status: 'queued', progress: 0, created_at: at });
      await transaction('renders').insert({
        id,
        job_id: id,
        source_id: source.id,
        chain_id: chainId,
        version_id: versionId,
        version_label: label,
        document: JSON.stringify(document),
        region: region ? JSON.stringify(region) : null,
        name,
        created_at: at,
      });
    });
    return id;
  }

  /** Asks for the same again: the chain as it was, on the source and the stretch as they were. Problem 409 when it is sealed. */
  async addAgain(id: string): Promise<string> {
    const row = await this.row(id);
    const { sourceId, chainId, region, soundId } = fromRow(row);
    if (soundId !== null && (await this.sounds.get(soundId)).sealed)
      throw new Problem(409, 'This render is sealed: it is final and is not rendered again. Unseal it first.');
    return this.note({
      source: await this.sounds.get(sourceId),
      chainId,
      // At the tempo it had then, whatever the source's is by now.
      document: readStored(await this.stored(id)),
      region: region ?? undefined,
      made: { versionId: row.version_id, label: row.version_label },
    });
  }

  private query() {
    return this.database('renders')
      .leftJoin('jobs', 'jobs.id', 'renders.job_id')
      .leftJoin('sounds', 'sounds.id', 'renders.source_id')
      .leftJoin('chains', 'chains.id', 'renders.chain_id')
      .select<RenderRow[]>(
        ...COLUMNS,
        'jobs.status',
        'jobs.progress',
        'jobs.error',
        'jobs.finished_at',
        'sounds.name as source_name',
        'chains.name as chain_name',
      );
  }
}

/** The wanted name, with a number behind it when a sound or another render has it already. */
async function freeName(database: Knex, wanted: string): Promise<string> {
  const taken = new Set<string>();
  // What begins with the name and a space lies between these two in the index.
  for (const table of ['sounds', 'renders'])
    for (const name of await database(table)
      .where({ name: wanted })
      .orWhere((query) => void query.where('name', '>=', `${wanted} `).where('name', '<', `${wanted}!`))
      .pluck<string[]>('name'))
      taken.add(name);
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} ${n}`;
    if (!taken.has(name)) return name;
  }
}

function fromRow(row: RenderRow): Render {
  return {
    id: row.id,
    status: row.status,
    progress: row.progress,
    error: row.error,
    name: row.name,
    sourceId: row.source_id,
    sourceName: row.source_name,
    soundId: row.sound_id,
    chainId: row.chain_id,
    chainName: row.chain_name,
    region: row.region === null ? null : (JSON.parse(row.region) as RegionRender),
    version: row.version_label,
    gaveUp: row.gave_up === null ? [] : (JSON.parse(row.gave_up) as string[]),
    createdAt: row.created_at,
    finishedAt: row.finished_at,
  };
}
