import { InputError } from '@hexenkessel/core/model';
import type { SoundRef } from '@hexenkessel/core/stages';
import { checkName } from '@hexenkessel/core/chain';
import { checkMarks } from '@hexenkessel/core/formats';
import type { Mixed, MixOrder, Sound, SoundChange, SoundName, SoundNeeds } from '@hexenkessel/core/protocol';
import type { Knex } from 'knex';
import { newId, now } from '../database/identity.ts';
import { readPage, type Page, type PageQuery } from '../http/pages.ts';
import { Problem } from '../http/problem.ts';
import type { AudioFiles } from './audioFiles.ts';
import { fromRow, soundRows, type PartRow, type SoundRow, type WholeRow } from './soundRow.ts';
import type { SoundUses } from './soundUses.ts';

/** What sounds are sorted by. */
export const SOUND_SORTS = ['added', 'name', 'origin', 'length', 'format', 'peak', 'loudness', 'time'] as const;
type SoundSort = (typeof SOUND_SORTS)[number];

const SOUND_ORDERS: Readonly<Record<SoundSort, string>> = {
  added: 'sounds.id',
  name: 'fold(sounds.name)',
  origin: "fold(coalesce(parents.name, '') || ' ' || coalesce(chains.name, ''))",
  length: '(1.0 * sounds.frames / sounds.sample_rate)',
  format: "(sounds.format || ' ' || sounds.sample_rate)",
  // Silence has none and lies below all.
  peak: 'coalesce(sounds.peak, -1000)',
  loudness: 'coalesce(sounds.loudness, -1000)',
  time: '(1.0 * coalesce(sounds.time_reference, 0) / sounds.sample_rate)',
};

const KIND = "CASE WHEN sounds.signal IS NULL THEN sounds.kind ELSE 'signal' END";
const FOUND_BY = `sounds.name || ' ' || ${KIND} || ' ' || sounds.tags || ' ' || coalesce(chains.name, '') || CASE WHEN sounds.mix_lay IS NULL THEN '' ELSE ' mix' END`;

/** Sounds of a family that are told of. */
const MOST_RELATED = 1000;

interface SoundQuery extends PageQuery<SoundSort> {
  readonly kind?: Sound['kind'] | undefined;
  readonly ids?: readonly string[] | undefined;
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
  private readonly uses: SoundUses;

  constructor(database: Knex, files: AudioFiles, uses: SoundUses) {
    this.database = database;
    this.files = files;
    this.uses = uses;
  }

  /** The newest first, where no other order is asked for. */
  async list({ sort = '-added', find = '', kind, ids, ...page }: SoundQuery): Promise<Page<Sound>> {
    const query = soundRows(this.database).where(fits(find, kind));
    if (ids) query.whereIn('sounds.id', ids);
    const desc = sort.startsWith('-');
    const by = SOUND_ORDERS[(desc ? sort.slice(1) : sort) as SoundSort];
    const { items, ...rest } = await readPage<WholeRow>(query, { by, id: 'sounds.id', desc }, page);
    return { ...rest, items: await this.wholes(items) };
  }

  /** What all sounds are called, and their content, newest first. */
  async names({ find = '', kind }: Pick<SoundQuery, 'find' | 'kind'>): Promise<SoundName[]> {
    return this.database('sounds')
      .leftJoin('renders', 'renders.sound_id', 'sounds.id')
      .leftJoin('chains', 'chains.id', 'renders.chain_id')
      .where(fits(find, kind))
      .orderBy('sounds.id', 'desc')
      .select('sounds.id', 'sounds.name', 'sounds.sha256', this.database.raw(`${KIND} AS kind`));
  }

  /** A sound, all that it came from, and all that came of those; newest first. */
  async family(id: string): Promise<Sound[]> {
    const related = this.database.raw(
      `WITH RECURSIVE
        ties(parent, child) AS (
          SELECT source_id, sound_id FROM renders WHERE sound_id IS NOT NULL UNION SELECT part_id, mix_id FROM mix_parts),
        before(id) AS (SELECT ? UNION SELECT parent FROM ties JOIN before ON child = before.id),
        family(id) AS (SELECT id FROM before UNION SELECT child FROM ties JOIN family ON parent = family.id)
      SELECT id FROM family LIMIT ${MOST_RELATED}`,
      [id],
    );
    const rows = await soundRows(this.database)
      .whereIn('sounds.id', related as unknown as string[])
      .orderBy('sounds.id', 'desc');
    return this.wholes(rows);
  }

  /** Problem 404 when there is none. */
  async get(id: string): Promise<Sound> {
    const row = await soundRows(this.database).where('sounds.id', id).first();
    if (!row) throw new Problem(404, `There is no sound with the id ${id}.`);
    return this.whole(row);
  }

  /** A source with the same content and name, if there is one. */
  async find(sha256: string, name: string): Promise<Sound | undefined> {
    const row = await soundRows(this.database)
      .where({ 'sounds.sha256': sha256, 'sounds.name': name, 'sounds.kind': 'source' })
      .first();
    return row && this.whole(row);
  }

  /** The newest sound that a chain means: of that content where it is said, else of that name. */
  async findMeant({ sound, sha256 }: SoundRef): Promise<Sound | undefined> {
    const row = await soundRows(this.database)
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

  /** How many there are, and the bytes of their audio, which several may have. */
  async extent(): Promise<{ readonly sounds: number; readonly bytes: number }> {
    const [{ sounds }] = await this.database('sounds').count({ sounds: '*' });
    const contents = this.database('sounds').groupBy('sha256').max({ bytes: 'bytes' }).as('contents');
    const [{ bytes }] = await this.database.from(contents).sum({ bytes: 'bytes' });
    return { sounds: Number(sounds), bytes: Number(bytes ?? 0) };
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
    return this.uses.needs(await this.get(id));
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

  private async whole(row: WholeRow): Promise<Sound> {
    return (await this.wholes([row]))[0];
  }

  private async wholes(rows: readonly WholeRow[]): Promise<Sound[]> {
    const mixes = rows.filter((row) => row.mix_lay !== null).map(({ id }) => id);
    const parts = mixes.length > 0 ? await this.parts(mixes) : new Map<string, Mixed['parts']>();
    return Promise.all(rows.map(async (row) => fromRow(row, await this.files.exists(row), parts.get(row.id))));
  }

  /** What mixes are made of, by their ids. */
  private async parts(mixIds: readonly string[]): Promise<Map<string, Mixed['parts']>> {
    const rows = await this.database('mix_parts')
      .join('sounds', 'sounds.id', 'mix_parts.part_id')
      .whereIn('mix_id', mixIds)
      .orderBy('position')
      .select<(PartRow & { name: string })[]>('mix_parts.*', 'sounds.name');
    const found = new Map<string, Mixed['parts']>();
    for (const { mix_id: id, part_id: soundId, name, level, muted, offset } of rows)
      found.set(id, [...(found.get(id) ?? []), { soundId, name, level, muted: Boolean(muted), offset }]);
    return found;
  }
}

/** That each word stands somewhere in what a sound is called, is, is tagged with or was made by. */
function fits(find: string, kind: Sound['kind'] | undefined) {
  return (query: Knex.QueryBuilder): void => {
    if (kind !== undefined) query.whereRaw(`${KIND} = ?`, kind);
    for (const word of find.toLowerCase().split(/\s+/).filter(Boolean))
      query.whereRaw(`instr(fold(${FOUND_BY}), ?) > 0`, word);
  };
}
