import type { Sound, SoundRef } from '@hexenkessel/core';
import type { Knex } from 'knex';
import { newId, now } from '../database/identity.ts';
import { Problem } from '../http/problem.ts';

interface SoundRow {
  readonly id: string;
  readonly name: string;
  readonly kind: 'source' | 'render';
  /** Which test signal it is. */
  readonly signal: string | null;
  readonly sha256: string;
  readonly bytes: number;
  readonly frames: number;
  readonly sample_rate: number;
  readonly channels: number;
  readonly format: string;
  readonly time_reference: number | null;
  readonly origin_frames: number;
  readonly peak: number | null;
  readonly true_peak: number | null;
  readonly loudness: number | null;
  readonly created_at: string;
}

interface LineageRow {
  readonly render_id: string | null;
  readonly source_id: string;
  readonly source_name: string;
  readonly chain_id: string;
  readonly chain_name: string;
  readonly version_label: string;
  readonly version_number: number | null;
}

export type NewSound = Omit<Sound, 'id' | 'createdAt' | 'lineage' | 'kind'> & Pick<SoundRow, 'kind' | 'signal'>;

/** The sounds in the database. Rows are added and never changed. */
export class Sounds {
  private readonly database: Knex;

  constructor(database: Knex) {
    this.database = database;
  }

  async list(): Promise<Sound[]> {
    return (await this.query().orderBy('sounds.id', 'desc')).map(fromRow);
  }

  /** Problem 404 when there is none. */
  async get(id: string): Promise<Sound> {
    const row = await this.query().where('sounds.id', id).first();
    if (!row) throw new Problem(404, `There is no sound with the id ${id}.`);
    return fromRow(row);
  }

  /** A source with the same content and name, if there is one. */
  async find(sha256: string, name: string): Promise<Sound | undefined> {
    const row = await this.query()
      .where({ 'sounds.sha256': sha256, 'sounds.name': name, 'sounds.kind': 'source' })
      .first();
    return row && fromRow(row);
  }

  /** The newest sound that a chain means: of that content where it is said, else of that name. */
  async findMeant({ sound, sha256 }: SoundRef): Promise<Sound | undefined> {
    const row = await this.query()
      .where(sha256 === undefined ? { 'sounds.name': sound } : { 'sounds.sha256': sha256 })
      .orderBy('sounds.id', 'desc')
      .first();
    return row && fromRow(row);
  }

  /** Sounds that are no test signals. */
  async count(): Promise<number> {
    const [{ n }] = await this.database('sounds').whereNull('signal').count({ n: '*' });
    return Number(n);
  }

  async hasSignal(signal: string): Promise<boolean> {
    return (await this.database('sounds').where({ signal }).first()) !== undefined;
  }

  /** Adds a sound, within `transaction` if given; gives its id. */
  async add(sound: NewSound, transaction: Knex = this.database): Promise<string> {
    const id = newId();
    const row: SoundRow = {
      id,
      name: sound.name,
      kind: sound.kind,
      signal: sound.signal,
      sha256: sound.sha256,
      bytes: sound.bytes,
      frames: sound.frames,
      sample_rate: sound.sampleRate,
      channels: sound.channels,
      format: sound.format,
      time_reference: sound.timeReference,
      origin_frames: sound.originFrames,
      peak: sound.peak,
      true_peak: sound.truePeak,
      loudness: sound.loudness,
      created_at: now(),
    };
    await transaction('sounds').insert(row);
    return id;
  }

  private query() {
    return this.database('sounds')
      .leftJoin('renders', 'renders.sound_id', 'sounds.id')
      .leftJoin('chains', 'chains.id', 'renders.chain_id')
      .leftJoin('versions', 'versions.id', 'renders.version_id')
      .leftJoin('sounds as parents', 'parents.id', 'renders.source_id')
      .select<(SoundRow & LineageRow)[]>(
        'sounds.*',
        'renders.id as render_id',
        'renders.source_id',
        'renders.chain_id',
        'renders.version_label',
        'chains.name as chain_name',
        'versions.number as version_number',
        'parents.name as source_name',
      );
  }
}

function fromRow(row: SoundRow & LineageRow): Sound {
  return {
    id: row.id,
    name: row.name,
    kind: row.signal === null ? row.kind : 'signal',
    sha256: row.sha256,
    bytes: row.bytes,
    frames: row.frames,
    sampleRate: row.sample_rate,
    channels: row.channels,
    format: row.format,
    timeReference: row.time_reference,
    originFrames: row.origin_frames,
    peak: row.peak,
    truePeak: row.true_peak,
    loudness: row.loudness,
    createdAt: row.created_at,
    lineage:
      row.render_id === null
        ? null
        : {
            renderId: row.render_id,
            sourceId: row.source_id,
            sourceName: row.source_name,
            chainId: row.chain_id,
            chainName: row.chain_name,
            version: row.version_label,
            versionNumber: row.version_number,
          },
  };
}
