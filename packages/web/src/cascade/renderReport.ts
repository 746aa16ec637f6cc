/** What the render worker and the page say to each other. */
import type { Clip, Span } from '@hexenkessel/core/model';
import type { FoundSound } from '@hexenkessel/core/engine';
import type { Measures, Outline } from '@hexenkessel/core/analysis';

/** Which sound a row shows: the source, the sound after a stage of that id, or the finished render. */
export type RowKey = 'source' | 'result' | `stage:${string}`;

export interface RowPicture extends Outline {
  readonly key: RowKey;
  /** The same for the same content. */
  readonly clipId: number;
  /** Frames that are there, of a sound that still arrives. */
  readonly arrived?: number;
}

/** What a row has cost to render. */
export interface RowCost {
  /** Milliseconds it took, together with the other stages of its run; 0 when it came from the cache. */
  readonly cost: number;
  /** How many stages were run at once in that time. */
  readonly sharedBy: number;
}

export interface RenderReport {
  readonly generation: number;
  readonly sampleRate: number;
  readonly sourceFrames: number;
  /** The sounds that the chain's stages name, in shared memory; with the first row. */
  readonly used?: readonly UsedSound[];
  /** How much of the render is done, 0…1. */
  readonly progress?: number;
  /** True when it was given up on request. */
  readonly stopped?: boolean;
  /** A row that is ready. */
  readonly row?: RowPicture & RowCost;
  /** Once the whole chain is done and no newer one waits; without true peak. */
  readonly measures?: Measures;
  /** Frames that placing the render at its anchor has moved it by; with the row of the render. */
  readonly shift?: number;
  /** Where the sound lies in the render, without what rings on; with the row of the render. */
  readonly span?: Span;
  /** dB by which the render was brought to its level; with the row of the render. */
  readonly levelGain?: number;
  readonly refused?: string;
}

/** What a candidate plays live: the sound as far as its last whole-clip stage, and how far the render is moved. */
export interface Prepared {
  readonly clip: Clip;
  /** Frames that placing the render at its anchor moves it by. */
  readonly shift: number;
  readonly used: readonly UsedSound[];
}

/** A sound that a stage uses, in shared memory. */
export type UsedSound = FoundSound & { readonly name: string };

/** A stretch in seconds from the source's first frame, heard once or round and round. */
export interface HeardStretch {
  readonly start: number;
  readonly end: number;
  readonly looped: boolean;
}

/** A sound that stages may name. */
export type NamedSound = { readonly id: string; readonly name: string; readonly sha256: string };

export type SoundKey = { readonly id: string; readonly sha256: string };
