import type { Beyond, RegionTime } from '@hexenkessel/core/chain';
import type { Splice } from '@hexenkessel/core/engine';
import type { WavDepth } from '@hexenkessel/core/formats';

/** The options of `render`, as they were typed. */
export interface RenderOptions {
  /** One of the two. */
  readonly chain?: string;
  readonly script?: string;
  readonly in: readonly string[];
  readonly out: string;
  readonly tempo?: string;
  readonly tempoMap?: string;
  readonly set?: readonly string[];
  readonly sound?: readonly string[];
  readonly tail?: string;
  readonly anchor?: string;
  readonly depth: WavDepth;
  readonly seed?: string;
  readonly rate?: string;
  readonly channels?: string;
  readonly from?: string;
  readonly to?: string;
  readonly beyond?: Beyond;
  readonly regionTime?: RegionTime;
  readonly splice?: boolean;
  readonly fade?: string;
  readonly spliceTail?: Splice['tail'];
  readonly format?: Form;
  readonly json?: boolean;
}

/** A form that renders are written in. */
export const FORMS = ['wav', 'flac'] as const;
export type Form = (typeof FORMS)[number];
