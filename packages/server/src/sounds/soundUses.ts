import { NO_MARKS, hasMarks, type SoundMarks } from '@hexenkessel/core/formats';
import type { Sound, SoundNeeds, Storage } from '@hexenkessel/core/protocol';
import type { Knex } from 'knex';
import type { ChainIndex } from '../chains/chainIndex.ts';

/** Of a render that is given up or failed nothing is left. */
const GOING_ON = ['queued', 'running', 'done'];
/** Of these nobody knows which sounds they name. */
const UNKNOWN = { 'sound_uses.name': null, 'sound_uses.sha256': null };
const UNMARKED = JSON.stringify(NO_MARKS);

type Needed = Pick<Sound, 'id' | 'name' | 'sha256' | 'kind'>;

/**
 * Which sounds are needed, and by what. A chain needs a sound that one of its documents names, by content or by name, when no
 * other sound would do as well; and one of which it cannot be read any more what it names, when the sound stands in its text.
 */
export class SoundUses {
  private readonly database: Knex;
  private readonly index: ChainIndex;

  constructor(database: Knex, index: ChainIndex) {
    this.database = database;
    this.index = index;
  }

  /** What needs a sound. */
  async needs(sound: Needed): Promise<SoundNeeds> {
    const renders = await this.database('renders')
      .join('jobs', 'jobs.id', 'renders.job_id')
      .where('renders.source_id', sound.id)
      .whereIn('jobs.status', GOING_ON)
      .select<{ sound_id: string | null; name: string }[]>('renders.sound_id', 'renders.name');
    const mixes = await this.database('mix_parts')
      .join('sounds', 'sounds.id', 'mix_parts.mix_id')
      .where('mix_parts.part_id', sound.id)
      .distinct<{ soundId: string; name: string }[]>({ soundId: 'sounds.id' }, 'sounds.name');
    return {
      renders: renders.map(({ sound_id: soundId, name }) => ({ soundId, name })),
      mixes,
      chains: await this.chainsNaming(sound),
      signal: sound.kind === 'signal',
    };
  }

  private async chainsNaming(sound: Needed): Promise<SoundNeeds['chains']> {
    await this.index.refresh();
    const { id, name, sha256 } = sound;
    const alone = async (same: object) =>
      (await this.database('sounds').where(same).whereNot({ id }).first('id')) === undefined;
    const named: SoundNeeds['chains'] = [];
    for (const [same, use] of [
      [{ sha256 }, { 'sound_uses.sha256': sha256 }],
      [{ name }, { 'sound_uses.sha256': null, 'sound_uses.name': name }],
    ])
      if (await alone(same))
        named.push(...(await this.using().where(use).distinct<SoundNeeds['chains']>('chains.id', 'chains.name')));
    for (const { text, ...chain } of await this.unreadable()) if (stands(sound, text)) named.push(chain);
    return [...new Map(named.map((chain) => [chain.id, chain])).values()];
  }

  /** Renders that nothing needs and nobody has said anything of, the largest first. */
  async unneeded(): Promise<Storage['unneeded']> {
    await this.index.refresh();
    const { database } = this;
    const other = (same: string) =>
      database.select(database.raw('1')).from('sounds as others').whereRaw(`${same} AND others.id <> sounds.id`);
    const rows = await database('sounds')
      .where({ kind: 'render', sealed: false, tags: '[]' })
      .whereNotExists(
        database('renders')
          .join('jobs', 'jobs.id', 'renders.job_id')
          .whereRaw('renders.source_id = sounds.id')
          .whereIn('jobs.status', GOING_ON),
      )
      .whereNotExists(database('mix_parts').whereRaw('mix_parts.part_id = sounds.id'))
      .whereNotExists(database('shelf_sounds').whereRaw('shelf_sounds.sound_id = sounds.id'))
      .whereNotExists(
        this.using()
          .whereRaw('sound_uses.sha256 = sounds.sha256')
          .whereNotExists(other('others.sha256 = sounds.sha256')),
      )
      .whereNotExists(
        this.using()
          .whereRaw('sound_uses.sha256 IS NULL AND sound_uses.name = sounds.name')
          .whereNotExists(other('others.name = sounds.name')),
      )
      .orderBy('bytes', 'desc')
      .select<(Needed & { readonly bytes: number; readonly marks: string | null })[]>(
        'id',
        'name',
        'sha256',
        'bytes',
        'marks',
      );
    const texts = await this.unreadable();
    const desks = await database('shelf_sounds')
      .join('desks', 'desks.chain_id', 'shelf_sounds.chain_id')
      .whereNull('shelf_sounds.sound_id')
      .pluck<string[]>('desks.content');
    return rows
      .filter(({ marks }) => marks === null || marks === UNMARKED || !hasMarks(JSON.parse(marks) as SoundMarks))
      .filter(
        (sound) => !texts.some(({ text }) => stands(sound, text)) && !desks.some((desk) => desk.includes(sound.id)),
      )
      .map(({ id, name, bytes }) => ({ id, name, bytes }));
  }

  /** The uses of chains that are not deleted. */
  private using() {
    return this.database('sound_uses')
      .join('chains', 'chains.id', 'sound_uses.chain_id')
      .whereNull('chains.deleted_at');
  }

  /** Documents that cannot be read; there are few, if any. */
  private async unreadable(): Promise<{ readonly id: string; readonly name: string; readonly text: string }[]> {
    return this.using()
      .where(UNKNOWN)
      .leftJoin('versions', (on) =>
        on.on('versions.chain_id', 'sound_uses.chain_id').andOn('versions.number', 'sound_uses.number'),
      )
      .leftJoin('drafts', (on) => on.on('drafts.chain_id', 'sound_uses.chain_id').andOnVal('sound_uses.number', 0))
      .select('chains.id', 'chains.name', this.database.raw('coalesce(versions.document, drafts.document) AS text'));
  }
}

const stands = ({ sha256, name }: Pick<Sound, 'sha256' | 'name'>, text: string) =>
  text.includes(sha256) || text.includes(JSON.stringify(name));
