// Fills a store that a server has made with many chains, sounds and renders, as years of work would.
import { createHash } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { ulid } from 'ulid';

const WORDS = ['fog', 'harbour', 'lamp', 'tide', 'copper', 'kettle', 'gull', 'bell', 'rope', 'rain', 'boiler', 'quay'];
const word = (n) => WORDS[n % WORDS.length];
/** Bytes of each file: what is in it is not read for lists. */
const SILENCE = Buffer.alloc(64);

/** `sounds`: half of them are renders. Of `renders` those that made no sound were cancelled. */
export function fillStore(folder, { chains, sounds, renders }) {
  const database = new Database(join(folder, 'hexenkessel.sqlite'));
  const documents = database.prepare('SELECT document FROM versions').pluck().all();
  const insert = (table, row) =>
    database
      .prepare(
        `INSERT INTO ${table} (${Object.keys(row).join()}) VALUES (${Object.keys(row)
          .map(() => '?')
          .join()})`,
      )
      .run(...Object.values(row));
  const at = new Date().toISOString();
  const chainIds = [];
  const soundIds = [];
  database.transaction(() => {
    for (let n = 0; n < chains; n++) {
      const id = ulid();
      const document = JSON.parse(documents[n % documents.length]);
      document.name = `${word(n)} ${word(n >> 3)} ${n}`;
      insert('chains', {
        id,
        name: document.name,
        revision: 1,
        created_at: at,
        updated_at: new Date(n * 1000).toISOString(),
      });
      insert('versions', {
        id: ulid(),
        chain_id: id,
        number: 1,
        document: JSON.stringify(document),
        why: '',
        created_at: at,
      });
      if (n % 4 === 0) insert('drafts', { chain_id: id, document: JSON.stringify(document), updated_at: at });
      chainIds.push(id);
    }
    for (let n = 0; n < sounds; n++) {
      const id = ulid();
      const sha256 = createHash('sha256').update(`${n}`).digest('hex');
      mkdirSync(join(folder, 'audio', sha256.slice(0, 2)), { recursive: true });
      writeFileSync(join(folder, 'audio', sha256.slice(0, 2), `${sha256}.wav`), SILENCE);
      insert('sounds', {
        id,
        name: `${word(n)} ${word(n >> 2)} ${n}`,
        kind: n % 2 === 0 ? 'source' : 'render',
        sha256,
        bytes: SILENCE.length,
        frames: 48000 + n,
        sample_rate: n % 3 === 0 ? 44100 : 48000,
        channels: 1 + (n % 2),
        format: '24',
        peak: -(n % 40),
        true_peak: -(n % 40),
        loudness: -(n % 60),
        marks: '{"loops":[],"markers":[],"rootKey":null,"fineTune":0}',
        created_at: at,
      });
      soundIds.push(id);
    }
    const made = soundIds.filter((_, n) => n % 2 === 1);
    for (let n = 0; n < renders; n++) {
      const id = ulid();
      insert('jobs', {
        id,
        kind: 'render',
        status: n < made.length ? 'done' : 'cancelled',
        progress: 1,
        created_at: at,
      });
      insert('renders', {
        id,
        job_id: id,
        source_id: soundIds[(n * 2) % sounds],
        sound_id: made[n] ?? null,
        chain_id: chainIds[n % chains],
        version_label: 'version 1',
        document: documents[n % documents.length],
        name: `${word(n)} render ${n}`,
        created_at: at,
      });
    }
  })();
  database.close();
  return { chainIds, soundIds };
}
