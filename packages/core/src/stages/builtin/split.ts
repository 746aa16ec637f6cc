import { StateVariableFilter } from '../../dsp/stateVariableFilter.ts';
import type { Ramp } from '../../model/ramp.ts';
import { defineLiveStage, type BranchProcessor, type LiveContext } from '../contract.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import { choice, frequency } from '../../params/params.ts';
import { words } from '../../model/words.ts';

const MODES = ['copies', 'left/right', 'mid/side', '2 bands', '3 bands', '4 bands'] as const;
type Mode = (typeof MODES)[number];
const MOST_COPIES = 8;

const BRANCHES: Record<Mode, readonly string[]> = {
  copies: [],
  'left/right': ['Left', 'Right'],
  'mid/side': ['Mid', 'Side'],
  '2 bands': ['Low', 'High'],
  '3 bands': ['Low', 'Mid', 'High'],
  '4 bands': ['Low', 'Low-mid', 'High-mid', 'High'],
};

export const split = defineLiveStage({
  kind: 'split',
  family: 'plumbing',
  title: 'Parallel split',
  summary: 'Sends the sound through parallel branches (copies, left/right, mid/side or frequency bands) and sums them.',
  keywords: words(
    'parallel, branches, bands, multiband, crossover, mid side, left right, side by side, split, parallel compression, band split, mid/side, multi-band, send, sum',
  ),
  mixLaw: 'linear',
  widens: true,
  params: {
    mode: choice(MODES, {
      shown: { copies: 'parallel' },
      default: 'copies',
      doc: 'What each branch gets: all of the sound, one channel of it, mid or side, or one band of the spectrum.',
    }),
    low: frequency({
      label: 'crossover 1',
      default: 250,
      min: 20,
      max: 20000,
      doc: 'Where the lowest band ends. Higher gives the lowest branch more of the sound.',
    }),
    middle: frequency({
      label: 'crossover 2',
      default: 2500,
      min: 20,
      max: 20000,
      doc: 'Where the second band ends, with three or four bands. Never below the first.',
    }),
    high: frequency({
      label: 'crossover 3',
      default: 8000,
      min: 20,
      max: 20000,
      doc: 'Where the third band ends, with four bands. Never below the second.',
    }),
  },
  heldTo: [{ what: 'Frequency bands add up flat', limit: ['within', 0.1, 'dB'], how: 'by the response to an impulse' }],
  holds: {
    count: ({ mode }) => {
      const fixed = BRANCHES[mode].length;
      return fixed > 0 ? { min: fixed, max: fixed } : { min: 1, max: MOST_COPIES };
    },
    title: ({ mode }, index) => BRANCHES[mode][index] ?? `Branch ${index + 1}`,
    inputChannels: ({ mode }, channels) => (mode === 'left/right' || mode === 'mid/side' ? 1 : channels),
    placement: ({ mode }, index) => {
      if (mode === 'left/right') return index === 0 ? 'left' : 'right';
      return mode === 'mid/side' && index === 1 ? 'opposed' : 'both';
    },
    clipStages: true,
  },
  // The crossovers ring a little, the longest at the lowest.
  tailSeconds: ({ mode, low }, branchTails) => Math.max(0, ...branchTails) + (mode.endsWith('bands') ? 12 / low : 0),
  create: (context, { mode }) => {
    if (mode === 'copies') return new Copies(context.branches);
    if (mode === 'left/right' || mode === 'mid/side') return new Sides(context.branches, mode === 'mid/side');
    return new Bands(context);
  },
});

function sum(branches: readonly BranchProcessor[], output: readonly Float32Array[], frames: number): void {
  for (let side = 0; side < 2; side++) {
    const out = output[side];
    for (let i = 0; i < frames; i++) out[i] = 0;
    for (let b = 0; b < branches.length; b++) {
      const from = branches[b].output[side];
      for (let i = 0; i < frames; i++) out[i] += from[i];
    }
  }
}

class Copies {
  readonly memoryFrames = 0;
  private readonly branches: readonly BranchProcessor[];

  constructor(branches: readonly BranchProcessor[]) {
    this.branches = branches;
  }

  reset(): void {}

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    _values: unknown,
    position: number,
  ): void {
    for (let b = 0; b < this.branches.length; b++) this.branches[b].process(input, frames, position);
    sum(this.branches, output, frames);
  }
}

/** Left and right, or half their sum and half their difference, each to a branch of its own. */
class Sides {
  readonly memoryFrames = 0;
  private readonly branches: readonly BranchProcessor[];
  private readonly midSide: boolean;
  private readonly first = [new Float32Array(BLOCK_FRAMES)];
  private readonly second = [new Float32Array(BLOCK_FRAMES)];

  constructor(branches: readonly BranchProcessor[], midSide: boolean) {
    this.branches = branches;
    this.midSide = midSide;
  }

  reset(): void {}

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    _values: unknown,
    position: number,
  ): void {
    const left = input[0];
    const right = input[input.length - 1];
    const first = this.first[0];
    const second = this.second[0];
    for (let i = 0; i < frames; i++) {
      first[i] = this.midSide ? 0.5 * (left[i] + right[i]) : left[i];
      second[i] = this.midSide ? 0.5 * (left[i] - right[i]) : right[i];
    }
    this.branches[0].process(this.first, frames, position);
    this.branches[1].process(this.second, frames, position);
    sum(this.branches, output, frames);
  }
}

/**
 * Linkwitz–Riley crossovers of fourth order: two Butterworth sections in a row on either side of the edge, whose outputs
 * add up to an all-pass (S. H. Linkwitz, "Active crossover networks for noncoincident drivers", 1976). A band that is
 * not cut at a later edge goes through both halves of it, so that all bands have turned their phase alike.
 */
class Bands {
  readonly memoryFrames: number;
  private readonly branches: readonly BranchProcessor[];
  private readonly edges: number;
  /** One for each pair of band and edge, and channel. */
  private readonly crossovers: Crossover[][][];
  private readonly bands: Float32Array[][];
  private readonly above: Float32Array;
  private readonly cuts: { start: number; end: number }[];

  constructor({ branches, inputChannels, sampleRate }: LiveContext) {
    this.branches = branches;
    this.edges = branches.length - 1;
    this.memoryFrames = 0.1 * sampleRate;
    const channels = Array.from({ length: inputChannels }, (_, c) => c);
    this.crossovers = branches.map((_, band) =>
      Array.from({ length: this.edges }, (__, edge) =>
        edge < band ? [] : channels.map(() => new Crossover(sampleRate)),
      ),
    );
    this.bands = branches.map(() => channels.map(() => new Float32Array(BLOCK_FRAMES)));
    this.above = new Float32Array(BLOCK_FRAMES);
    this.cuts = Array.from({ length: this.edges }, () => ({ start: 0, end: 0 }));
  }

  reset(): void {
    for (let band = 0; band < this.crossovers.length; band++) {
      const edges = this.crossovers[band];
      for (let edge = 0; edge < edges.length; edge++) {
        for (let c = 0; c < edges[edge].length; c++) edges[edge][c].reset();
      }
    }
  }

  process(
    input: readonly Float32Array[],
    output: readonly Float32Array[],
    frames: number,
    values: { readonly low: Ramp; readonly middle: Ramp; readonly high: Ramp },
    position: number,
  ): void {
    const { bands, edges, cuts } = this;
    for (let edge = 0; edge < edges; edge++) {
      const set = edge === 0 ? values.low : edge === 1 ? values.middle : values.high;
      cuts[edge].start = edge === 0 ? set.start : Math.max(set.start, cuts[edge - 1].start);
      cuts[edge].end = edge === 0 ? set.end : Math.max(set.end, cuts[edge - 1].end);
    }
    for (let c = 0; c < input.length; c++) {
      const rest = bands[edges][c];
      for (let i = 0; i < frames; i++) rest[i] = input[c][i];
      for (let edge = 0; edge < edges; edge++) {
        // What lies below the edge becomes this band; the rest goes on to the next edge.
        this.crossovers[edge][edge][c].split(rest, bands[edge][c], frames, cuts[edge]);
        for (let band = 0; band < edge; band++)
          this.crossovers[band][edge][c].turn(bands[band][c], this.above, frames, cuts[edge]);
      }
    }
    for (let b = 0; b < this.branches.length; b++) this.branches[b].process(bands[b], frames, position);
    sum(this.branches, output, frames);
  }
}

class Crossover {
  private readonly low: readonly StateVariableFilter[];
  private readonly high: readonly StateVariableFilter[];

  constructor(sampleRate: number) {
    this.low = [new StateVariableFilter(sampleRate), new StateVariableFilter(sampleRate)];
    this.high = [new StateVariableFilter(sampleRate), new StateVariableFilter(sampleRate)];
  }

  reset(): void {
    for (let s = 0; s < 2; s++) {
      this.low[s].reset();
      this.high[s].reset();
    }
  }

  /** Puts what lies below the edge into `below` and leaves what lies above it in `samples`. */
  split(samples: Float32Array, below: Float32Array, frames: number, edge: Ramp): void {
    for (let i = 0; i < frames; i++) below[i] = samples[i];
    for (let s = 0; s < 2; s++) {
      this.low[s].process(below, frames, 'low', edge);
      this.high[s].process(samples, frames, 'high', edge);
    }
  }

  /** Turns the phase of `samples` as the edge turns that of what it cuts. */
  turn(samples: Float32Array, above: Float32Array, frames: number, edge: Ramp): void {
    for (let i = 0; i < frames; i++) above[i] = samples[i];
    this.split(above, samples, frames, edge);
    for (let i = 0; i < frames; i++) samples[i] += above[i];
  }
}
