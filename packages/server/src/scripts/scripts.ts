import type { Knex } from 'knex';
import { InputError } from '@hexenkessel/core/model';
import type { ScriptEntry } from '@hexenkessel/core/protocol';
import { compileScript } from '@hexenkessel/core/script';
import { newId, now } from '../database/identity.ts';
import { Problem } from '../http/problem.ts';

/** Scripts of the store. */
const MOST_SCRIPTS = 1000;
/** What one is called before it was ever in order. */
const UNNAMED = 'Untitled script';
/** Its title is asked for only. */
const RATE = 48_000;

interface ScriptRow {
  readonly id: string;
  readonly title: string;
  readonly text: string;
  readonly revision: number;
  readonly changed_at: string;
}

/** Scripts as they are being written: kept as they were typed, in order or not. */
export class Scripts {
  private readonly database: Knex;

  constructor(database: Knex) {
    this.database = database;
  }

  async all(): Promise<ScriptEntry[]> {
    const rows = await this.database<ScriptRow>('scripts').orderBy('title').orderBy('id');
    return rows.map(entryOf);
  }

  async get(id: string): Promise<ScriptEntry> {
    const row = await this.database<ScriptRow>('scripts').where({ id }).first();
    if (!row) throw new Problem(404, `There is no script with the id ${id}.`);
    return entryOf(row);
  }

  async create(text: string): Promise<ScriptEntry> {
    const [{ count }] = (await this.database('scripts').count({ count: '*' })) as [{ count: number }];
    if (count >= MOST_SCRIPTS) throw new Problem(422, `There are ${MOST_SCRIPTS} scripts; no more are kept.`);
    const row = { id: newId(), title: titleOf(text) ?? UNNAMED, text, revision: 1, changed_at: now() };
    await this.database<ScriptRow>('scripts').insert(row);
    return entryOf(row);
  }

  /** Takes the place of the text at `revision`; Problem 409 with what stands there when another one does by now. */
  async save(id: string, revision: number, text: string): Promise<ScriptEntry> {
    const title = titleOf(text);
    const changed = await this.database<ScriptRow>('scripts')
      .where({ id, revision })
      .update({ text, revision: revision + 1, changed_at: now(), ...(title === undefined ? {} : { title }) });
    const entry = await this.get(id);
    if (changed === 0)
      throw new Problem(409, `${entry.title} was changed in another window since it was opened here.`, {
        script: entry,
      });
    return entry;
  }

  async remove(id: string): Promise<void> {
    await this.get(id);
    await this.database<ScriptRow>('scripts').where({ id }).delete();
  }
}

function entryOf({ id, title, text, revision, changed_at: changedAt }: ScriptRow): ScriptEntry {
  return { id, title, text, revision, from: 'own', changedAt };
}

/** What a text calls itself; undefined where it is not in order. */
export function titleOf(text: string): string | undefined {
  try {
    return compileScript(text, RATE).header.title;
  } catch (error) {
    if (error instanceof InputError) return undefined;
    throw error;
  }
}
