/** Sounds as they lie in the database. */
import type { RegionRender } from '@hexenkessel/core/engine';
import { NO_MARKS, type LeftOutMarks, type SoundMarks } from '@hexenkessel/core/formats';
import type { Mixed, Sound } from '@hexenkessel/core/protocol';
import type { Knex } from 'knex';

export interface SoundRow {
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

export interface PartRow {
  readonly mix_id: string;
  readonly position: number;
  readonly part_id: string;
  readonly level: number;
  readonly muted: number | boolean;
  readonly offset: number;
}

/** A sound with what it was rendered from. */
export type WholeRow = SoundRow & LineageRow;

/** Sounds with the chain and the sound that they were made by. */
export function soundRows(database: Knex) {
  return database('sounds')
    .leftJoin('renders', 'renders.sound_id', 'sounds.id')
    .leftJoin('chains', 'chains.id', 'renders.chain_id')
    .leftJoin('versions', 'versions.id', 'renders.version_id')
    .leftJoin('sounds as parents', 'parents.id', 'renders.source_id')
    .select<WholeRow[]>(
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

/** A sound as it is told of. `present`: its audio is there. */
export function fromRow(row: WholeRow, present: boolean, parts: Mixed['parts'] = []): Sound {
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
