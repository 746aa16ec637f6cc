import type { Clip, Span, Timing } from '@hexenkessel/core/model';
import { sameValue } from '@hexenkessel/core/model';
import { BUILT_INS, type ClipPicture, type Script } from '@hexenkessel/core/stages';
import type { ChainDocument, StageDocument } from '@hexenkessel/core/chain';
import { NO_SOUNDS, bankOf, isMeant, soundUses, type MovementTrace, type SoundBank } from '@hexenkessel/core/engine';
import type { Measures, Overview, TempoEstimate } from '@hexenkessel/core/analysis';
import { Subject } from '../parts/subject.ts';
import type {
  HeardStretch,
  NamedSound,
  Prepared,
  RowCost,
  RenderReport,
  RowKey,
  RowPicture,
  SoundKey,
} from './renderReport.ts';

export interface CascadeState {
  readonly rows: Readonly<Partial<Record<RowKey, RowPicture>>>;
  readonly costs: Readonly<Partial<Record<RowKey, RowCost>>>;
  /** Rows that no longer show the chain as it is. */
  readonly stale: ReadonlySet<RowKey>;
  readonly busy: boolean;
  /** How much of a render that takes its time is done, 0…1. */
  readonly progress: number | undefined;
  /** True when it was given up on request. */
  readonly stopped: boolean;
  readonly sampleRate: number;
  readonly sourceFrames: number;
  readonly measures: Measures | undefined;
  /** Frames that placing the render at its anchor moves it by. */
  readonly shift: number;
  /** Where the sound lies in the render, in frames from the source's first; undefined before it is known. */
  readonly span: Span | undefined;
  /** dB by which the render is brought to its level. */
  readonly levelGain: number;
  readonly failure: string | undefined;
  /** The sounds that the chain's stages name, as far as they are loaded; the same one as long as nothing changes. */
  readonly bank: SoundBank;
  /** What the bank holds. */
  readonly bankKey: string;
  /** Milliseconds from the last change to the last row. */
  readonly latency: number | undefined;
}

/** What is known before anything is rendered. */
export const EMPTY: CascadeState = {
  rows: {},
  costs: {},
  stale: new Set(),
  busy: false,
  progress: undefined,
  stopped: false,
  sampleRate: 48000,
  sourceFrames: 0,
  measures: undefined,
  shift: 0,
  span: undefined,
  levelGain: 0,
  failure: undefined,
  bank: NO_SOUNDS,
  bankKey: '',
  latency: undefined,
};

/** The thread that renders; `renderWork.ts` says what each of these does. */
export interface RenderThread {
  render(
    generation: number,
    sound: SoundKey,
    chain: ChainDocument,
    sounds: readonly NamedSound[],
    report: (report: RenderReport) => void,
  ): Promise<void>;
  stop(): unknown;
  clip(key: RowKey): Promise<Clip | undefined>;
  arrived(sound: SoundKey, frame: number): Promise<void>;
  prepare(sound: SoundKey, chain: ChainDocument, sounds: readonly NamedSound[]): Promise<Prepared>;
  stagePicture(stage: StageDocument, timing: Timing, scripts: readonly Script[]): Promise<ClipPicture | undefined>;
  soundTempo(sound: SoundKey): Promise<TempoEstimate>;
  soundOnsets(sound: SoundKey): Promise<readonly number[]>;
  detail(key: RowKey, start: number, end: number, columns: number): Promise<Overview | undefined>;
  movementTrace(
    sound: SoundKey,
    chain: ChainDocument,
    sounds: readonly NamedSound[],
    end: number,
  ): Promise<MovementTrace | undefined>;
  loopLoudness(
    sound: SoundKey,
    chain: ChainDocument,
    loop: HeardStretch,
    sounds: readonly NamedSound[],
  ): Promise<number>;
  /** Ends it; nothing answers any more. */
  close(): void;
}

/** Starts a thread; `onError` hears what ended it. */
export type OpenThread = (onError: (message: string) => void) => RenderThread;

/** What is rendered. */
interface Shown {
  readonly sound: SoundKey;
  readonly chain: ChainDocument;
  /** What the sounds that the chain names are, as far as they are known. */
  readonly used: readonly string[];
}

/**
 * Renders a chain over a sound in a thread of its own and keeps the pictures of its rows as they become ready. A newer
 * chain takes an older one's place; the rows of the older stay, marked as stale, until they are replaced.
 */
export class ChainRenderer extends Subject<CascadeState> {
  private readonly thread: RenderThread;
  private shown: Shown | undefined;
  private named: readonly NamedSound[] = [];
  private generation = 0;

  constructor(open: OpenThread) {
    super(EMPTY);
    this.thread = open((message) =>
      this.change({ busy: false, failure: `The renderer stopped: ${message}. Reload the page to go on.` }),
    );
  }

  /** Renders a chain over a sound, unless that is what is rendered already. */
  show({ id, sha256 }: SoundKey, chain: ChainDocument, named: readonly NamedSound[]): void {
    this.named = named;
    // Renders come and go; only what the chain names matters.
    const used = soundUses(BUILT_INS, chain).map(
      ({ ref }) => named.find((candidate) => isMeant(ref, candidate))?.sha256 ?? '',
    );
    const before = this.shown;
    this.shown = { sound: { id, sha256 }, chain, used };
    const same = before?.sound.id === id && before.sound.sha256 === sha256 && sameValue(before.used, used);
    if (same && sameHeard(before.chain, chain)) return;
    this.render(before !== undefined && before.sound.sha256 !== sha256);
  }

  /** Gives up what is being rendered. */
  stop(): void {
    this.thread.stop();
  }

  /** Takes it up again from what is ready. */
  goOn(): void {
    if (this.shown) this.render(false);
  }

  fetchClip(key: RowKey): Promise<Clip | undefined> {
    return this.thread.clip(key);
  }

  /** Waits until the sound at hand is there up to a frame. */
  async arrived(frame: number): Promise<void> {
    if (this.shown) await this.thread.arrived(this.shown.sound, frame);
  }

  prepare({ id, sha256 }: SoundKey, chain: ChainDocument): Promise<Prepared> {
    return this.thread.prepare({ id, sha256 }, chain, this.named);
  }

  loopLoudness({ id, sha256 }: SoundKey, chain: ChainDocument, loop: HeardStretch): Promise<number> {
    return this.thread.loopLoudness({ id, sha256 }, chain, loop, this.named);
  }

  stagePicture(stage: StageDocument, timing: Timing, scripts: readonly Script[]): Promise<ClipPicture | undefined> {
    return this.thread.stagePicture(stage, timing, scripts);
  }

  /** How everything moves over the sound at hand, up to a frame. */
  async movementTrace(chain: ChainDocument, end: number): Promise<MovementTrace | undefined> {
    return this.shown && this.thread.movementTrace(this.shown.sound, chain, this.named, end);
  }

  /** The tempo that the sound at hand may have. */
  async soundTempo(): Promise<TempoEstimate | undefined> {
    return this.shown && this.thread.soundTempo(this.shown.sound);
  }

  /** Where notes begin in the sound at hand, in seconds from its first frame. */
  async soundOnsets(): Promise<readonly number[]> {
    return this.shown ? this.thread.soundOnsets(this.shown.sound) : [];
  }

  /** A part of a row in as many columns as are asked for; frames from the source's first. */
  detail(key: RowKey, start: number, end: number, columns: number): Promise<Overview | undefined> {
    return this.thread.detail(key, start, end, columns);
  }

  close(): void {
    this.thread.close();
  }

  private render(otherSound: boolean): void {
    if (!this.shown) return;
    const mine = ++this.generation;
    const began = performance.now();
    const before = otherSound ? EMPTY : this.state;
    this.set({
      ...before,
      busy: true,
      progress: undefined,
      stopped: false,
      failure: undefined,
      stale: new Set(Object.keys(before.rows) as RowKey[]),
    });
    const { sound, chain } = this.shown;
    this.thread
      .render(mine, sound, chain, this.named, (report) => this.take(report, performance.now() - began))
      .catch((error: unknown) => this.change({ busy: false, failure: `The renderer failed: ${String(error)}` }));
  }

  /** A picture of an older state of the chain is better than none, but stays marked as stale. */
  private take(report: RenderReport, latency: number): void {
    const before = this.state;
    const current = report.generation === this.generation;
    if (!current && report.row === undefined) return;
    if (report.stopped) return this.change({ busy: false, progress: undefined, stopped: true });
    if (report.progress !== undefined) return this.change({ progress: report.progress });
    if (report.refused !== undefined) return this.change({ busy: false, failure: report.refused });
    const { row } = report;
    const stale = row && current && before.stale.has(row.key) ? without(before.stale, row.key) : before.stale;
    const bankKey = report.used?.map(({ sha256, name }) => `${sha256} ${name}`).join() ?? before.bankKey;
    const done = current && report.measures !== undefined;
    this.set({
      rows: row ? { ...before.rows, [row.key]: sameRow(before.rows[row.key], row) } : before.rows,
      costs: row ? { ...before.costs, [row.key]: { cost: row.cost, sharedBy: row.sharedBy } } : before.costs,
      stale,
      busy: done ? false : before.busy,
      progress: done ? undefined : before.progress,
      stopped: false,
      sampleRate: report.sampleRate,
      sourceFrames: report.sourceFrames,
      measures: report.measures ?? before.measures,
      shift: (current ? report.shift : undefined) ?? before.shift,
      span: (current ? report.span : undefined) ?? before.span,
      levelGain: (current ? report.levelGain : undefined) ?? before.levelGain,
      failure: undefined,
      bank: bankKey === before.bankKey ? before.bank : bankOf(report.used ?? []),
      bankKey,
      latency: done ? latency : before.latency,
    });
  }

  private change(part: Partial<CascadeState>): void {
    this.set({ ...this.state, ...part });
  }
}

/** The same row where the same content is told again, so that nobody draws it anew. */
function sameRow(before: RowPicture | undefined, row: RowPicture): RowPicture {
  return before?.clipId === row.clipId && before.arrived === row.arrived ? before : row;
}

function without<T>(set: ReadonlySet<T>, entry: T): ReadonlySet<T> {
  const rest = new Set(set);
  rest.delete(entry);
  return rest;
}

/** True when two chains sound the same: names, notes and tags change nothing that is heard. */
export function sameHeard(a: ChainDocument, b: ChainDocument): boolean {
  const heard = ({ name: _, about: __, ...rest }: ChainDocument) => ({ ...rest, render: { ...rest.render, name: '' } });
  return a === b || sameValue(heard(a), heard(b));
}
