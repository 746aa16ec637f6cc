import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS, type SoundRef } from '@hexenkessel/core/stages';
import { checkName } from '@hexenkessel/core/chain';
import { isMeant, soundUses, type RegionRender } from '@hexenkessel/core/engine';
import { NO_MARKS, checkMarks, hasMarks, type LeftOutMarks, type SoundMarks } from '@hexenkessel/core/formats';
import type { Mixed, MixOrder, Sound, SoundChange, SoundNeeds } from '@hexenkessel/core/protocol';
import type { Knex } from 'knex';
import { newId, now } from '../database/identity.ts';
import { Problem } from '../http/problem.ts';
import { tryStored } from '../chains/storedDocument.ts';
import type { AudioFiles } from './audioFiles.ts';

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
  /** A span as JSON. */
  readonly touched: string | null;
  readonly peak: number | null;
  readonly true_peak: number | null;
  readonly loudness: number | null;
  readonly marks: string | null;
  readonly tempo: number | null;
  readonly tags: string;
  readonly sealed: number | boolean;
  readonly source_format: string;
  /** How its parts are laid out, of a mix. */
  readonly mix_lay: Mixed['lay'] | null;
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
  readonly region: string | null;
  readonly left_out: string | null;
}

interface PartRow {
  readonly mix_id: string;
  readonly position: number;
  readonly part_id: string;
  readonly level: number;
  readonly muted: number | boolean;
  readonly offset: number;
}

export type NewSound = Omit<
  Sound,
  'id' | 'createdAt' | 'lineage' | 'kind' | 'tempo' | 'tags' | 'sealed' | 'missing' | 'mixed'
> &
  Pick<SoundRow, 'kind' | 'signal'>;

/** The sounds in the database. Their samples never change; names, tags and marks are the user's. */
export class Sounds {
  private readonly database: Knex;
  private readonly files: AudioFiles;

  constructor(database: Knex, files: AudioFiles) {
    this.database = database;
    this.files = files;
  }

  async list(): Promise<Sound[]> {
    const [present, rows, parts] = await Promise.all([
      this.files.present(),
      this.query().orderBy('sounds.id', 'desc'),
      this.parts(),
    ]);
    return rows.map((row) => fromRow(row, present.has(row.sha256), parts.get(row.id)));
  }

  /** Problem 404 when there is none. */
  async get(id: string): Promise<Sound> {
    const row = await this.query().where('sounds.id', id).first();
    if (!row) throw new Problem(404, `There is no sound with the id ${id}.`);
    return this.whole(row);
  }

  /** A source with the same content and name, if there is one. */
  async find(sha256: string, name: string): Promise<Sound | undefined> {
    const row = await this.query()
      .where({ 'sounds.sha256': sha256, 'sounds.name': name, 'sounds.kind': 'source' })
      .first();
    return row && this.whole(row);
  }

  /** The newest sound that a chain means: of that content where it is said, else of that name. */
  async findMeant({ sound, sha256 }: SoundRef): Promise<Sound | undefined> {
    const row = await this.query()
      .where(sha256 === undefined ? { 'sounds.name': sound } : { 'sounds.sha256': sha256 })
      .orderBy('sounds.id', 'desc')
      .first();
    return row && this.whole(row);
  }

  /** The hashes of all audio that sounds have. */
  async hashes(): Promise<Set<string>> {
    const rows = await this.database('sounds').distinct<{ sha256: string }[]>('sha256');
    return new Set(rows.map(({ sha256 }) => sha256));
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
      touched: sound.touched ? JSON.stringify(sound.touched) : null,
      peak: sound.peak,
      true_peak: sound.truePeak,
      loudness: sound.loudness,
      marks: JSON.stringify(sound.marks),
      tempo: null,
      tags: '[]',
      sealed: false,
      source_format: sound.sourceFormat,
      mix_lay: null,
      created_at: now(),
    };
    await transaction('sounds').insert(row);
    return id;
  }

  /** Adds a mix of sounds that are there; gives its id. */
  async addMix(sound: NewSound, { lay, parts }: Pick<MixOrder, 'lay' | 'parts'>): Promise<string> {
    return this.database.transaction(async (transaction) => {
      const id = await this.add(sound, transaction);
      await transaction('sounds').where({ id }).update({ mix_lay: lay });
      const rows = parts.map(({ soundId, ...said }, position): PartRow => ({
        mix_id: id,
        position,
        part_id: soundId,
        ...said,
      }));
      await transaction('mix_parts').insert(rows);
      return id;
    });
  }

  /** Changes what a user says of a sound. InputError when it is not allowed. */
  async change(id: string, { name, tags, sealed, marks, tempo }: SoundChange): Promise<Sound> {
    const sound = await this.get(id);
    if (sealed !== undefined && sound.kind !== 'render') throw new InputError('Only a render can be sealed.');
    const columns = {
      ...(name === undefined ? {} : { name: checkName(name) }),
      ...(tags === undefined ? {} : { tags: JSON.stringify([...new Set(tags)]) }),
      ...(sealed === undefined ? {} : { sealed }),
      ...(tempo === undefined ? {} : { tempo }),
      ...(marks === undefined ? {} : { marks: JSON.stringify(checkMarks(marks, sound.frames)) }),
    };
    if (Object.keys(columns).length > 0) await this.database('sounds').where({ id }).update(columns);
    return this.get(id);
  }

  /** What needs a sound. */
  async needs(id: string): Promise<SoundNeeds> {
    const sound = await this.get(id);
    const renders = await this.database('renders')
      .join('jobs', 'jobs.id', 'renders.job_id')
      .where('renders.source_id', id)
      .whereIn('jobs.status', ['queued', 'running', 'done'])
      .select<{ sound_id: string | null; name: string }[]>('renders.sound_id', 'renders.name');
    const mixes = await this.database('mix_parts')
      .join('sounds', 'sounds.id', 'mix_parts.mix_id')
      .where('mix_parts.part_id', id)
      .distinct<{ soundId: string; name: string }[]>({ soundId: 'sounds.id' }, 'sounds.name');
    const chains = await this.chainsNaming(sound);
    return {
      renders: renders.map(({ sound_id: soundId, name }) => ({ soundId, name })),
      mixes,
      chains,
      signal: sound.kind === 'signal',
    };
  }

  /** Chains of which a stage, in the draft or any version, means this sound and no other. */
  private async chainsNaming(sound: Sound): Promise<SoundNeeds['chains']> {
    const others = await this.database<SoundRow>('sounds').whereNot({ id: sound.id }).select('name', 'sha256');
    const isNeeded = (text: string) => {
      const read = tryStored(text);
      // Of one that cannot be read, whatever it names may be needed when it is mended.
      if ('fault' in read) return text.includes(sound.sha256) || text.includes(JSON.stringify(sound.name));
      return soundUses(BUILT_INS, read.document).some(
        ({ ref }) => isMeant(ref, sound) && !others.some((other) => isMeant(ref, other)),
      );
    };
    const named = new Map<string, string>();
    for (const table of ['drafts', 'versions']) {
      const rows = await this.database(table)
        .join('chains', 'chains.id', `${table}.chain_id`)
        .whereNull('chains.deleted_at')
        .select<{ id: string; name: string; document: string }[]>('chains.id', 'chains.name', 'document');
      for (const { id, name, document } of rows) if (!named.has(id) && isNeeded(document)) named.set(id, name);
    }
    return [...named].map(([id, name]) => ({ id, name }));
  }

  /** Deletes a sound that nothing needs, and its audio when no other sound has the same. Problem 409 with what needs it. */
  async delete(id: string): Promise<void> {
    const sound = await this.get(id);
    const needs = await this.needs(id);
    const needed = [
      ...needs.renders.map(({ name }) => `the render "${name}"`),
      ...needs.mixes.map(({ name }) => `the mix "${name}"`),
      ...needs.chains.map(({ name }) => `the chain "${name}"`),
      ...(needs.signal ? ['everybody, as a test signal'] : []),
    ];
    if (needed.length > 0)
      throw new Problem(409, `"${sound.name}" is needed by ${needed.join(', ')}. Delete those first, or keep it.`, {
        needs,
      });
    await this.database.transaction(async (transaction) => {
      // Renders that failed or were given up, and the one that made it.
      const rows = await transaction('renders')
        .where({ source_id: id })
        .orWhere({ sound_id: id })
        .select('id', 'job_id');
      await transaction('renders')
        .whereIn(
          'id',
          rows.map((row: { id: string }) => row.id),
        )
        .delete();
      await transaction('jobs')
        .whereIn(
          'id',
          rows.map((row: { job_id: string }) => row.job_id),
        )
        .delete();
      await transaction('sounds').where({ id }).delete();
    });
    if ((await this.database('sounds').where({ sha256: sound.sha256 }).first('id')) === undefined)
      await this.files.remove(sound.sha256);
  }

  /** Renders that nothing needs and nobody has said anything of. */
  async unneeded(): Promise<Sound[]> {
    // An id stands nowhere else in a desk than on its shelf, whether or not the rest of it can be read.
    const desks = await this.database('desks').select<{ content: string }[]>('content');
    const isShelved = (id: string) => desks.some(({ content }) => content.includes(id));
    const candidates = (await this.list()).filter(
      ({ id, kind, sealed, tags, marks }) =>
        kind === 'render' && !sealed && tags.length === 0 && !hasMarks(marks) && !isShelved(id),
    );
    const unneeded: Sound[] = [];
    for (const sound of candidates) {
      const { renders, mixes, chains } = await this.needs(sound.id);
      if (renders.length + mixes.length + chains.length === 0) unneeded.push(sound);
    }
    return unneeded;
  }

  private async whole(row: SoundRow & LineageRow): Promise<Sound> {
    const present = await this.files.exists(row);
    return fromRow(row, present, row.mix_lay === null ? [] : (await this.parts(row.id)).get(row.id));
  }

  /** What mixes are made of, by their ids: of one, or of all. */
  private async parts(mixId?: string): Promise<Map<string, Mixed['parts']>> {
    const rows = await this.database('mix_parts')
      .join('sounds', 'sounds.id', 'mix_parts.part_id')
      .where(mixId === undefined ? {} : { mix_id: mixId })
      .orderBy('position')
      .select<(PartRow & { name: string })[]>('mix_parts.*', 'sounds.name');
    const found = new Map<string, Mixed['parts']>();
    for (const { mix_id: id, part_id: soundId, name, level, muted, offset } of rows)
      found.set(id, [...(found.get(id) ?? []), { soundId, name, level, muted: Boolean(muted), offset }]);
    return found;
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
        'renders.region',
        'renders.left_out',
        'chains.name as chain_name',
        'versions.number as version_number',
        'parents.name as source_name',
      );
  }
}

function fromRow(row: SoundRow & LineageRow, present: boolean, parts: Mixed['parts'] = []): Sound {
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
    touched: row.touched === null ? null : (JSON.parse(row.touched) as Sound['touched']),
    peak: row.peak,
    truePeak: row.true_peak,
    loudness: row.loudness,
    marks: row.marks === null ? NO_MARKS : (JSON.parse(row.marks) as SoundMarks),
    tempo: row.tempo,
    tags: JSON.parse(row.tags) as string[],
    sealed: Boolean(row.sealed),
    sourceFormat: row.source_format,
    missing: !present,
    createdAt: row.created_at,
    mixed: row.mix_lay === null ? null : { lay: row.mix_lay, parts },
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
            region: row.region === null ? null : (JSON.parse(row.region) as RegionRender),
            leftOut: row.left_out === null ? null : (JSON.parse(row.left_out) as LeftOutMarks),
          },
  };
}
