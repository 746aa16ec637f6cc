import type { Clip, Span } from '@hexenkessel/core/model';
import { BUILT_INS, headOfClip } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { planStages, type Planned } from '@hexenkessel/core/engine';
import type { Stretch } from '@hexenkessel/core/live';
import type { CascadeState, ChainRenderer } from '../cascade/chainRenderer.ts';
import type { RowKey } from '../cascade/renderReport.ts';
import type { Region } from '../chain/playbackSlice.ts';
import { Subject } from '../parts/subject.ts';
import { type DeckMessage, WORK_DECK } from './engineMessages.ts';
import { heardPart } from './heardPart.ts';
import { heardStretch } from './heardStretch.ts';
import type { LivePlayer } from './livePlayer.ts';

/** What it does: nothing; it waits for the sound or the audio thread; it sounds. */
export type PlaybackState =
  | { readonly phase: 'silent'; readonly row: undefined }
  | { readonly phase: 'starting' | 'playing'; readonly row: RowKey };

/** Something else to listen to than the chain being worked on. */
export interface OtherDeck extends DeckMessage {
  readonly id: string;
}

/** Stands for none of the decks: silence, while it plays on. */
export const NOTHING_HEARD = 'nothing';

/** What is to be heard, and how. */
export interface Hearing {
  /** The chain as it is to be heard: branches beside a solo muted. */
  readonly document: ChainDocument;
  /** What is marked of the sound; null: all of it. */
  readonly region: Region | null;
  readonly loop: boolean;
  /** Whether a whole sound goes round with the tail of its render, or in its own length. */
  readonly loopTail: boolean;
  /** dB for the chain being worked on, to match others. */
  readonly gain: number;
  /** Whether the render is heard at the level that it is brought to. */
  readonly atLevel: boolean;
  /** What else runs along, and what is heard: the work or one of the others. */
  readonly others: readonly OtherDeck[];
  readonly heard: string;
}

export type Player = Pick<
  LivePlayer,
  | 'sampleRate'
  | 'playing'
  | 'position'
  | 'setWork'
  | 'setDeck'
  | 'keep'
  | 'listen'
  | 'play'
  | 'setLoop'
  | 'stop'
  | 'close'
> & { onFailure: (text: string) => void };

/** What it needs of the page. */
export interface Surroundings<P extends Player> {
  /** Starts the audio thread at a sample rate, seconds between a change and its sound. */
  readonly open: (sampleRate: number, latency: number | undefined) => Promise<P>;
  /** The plan with what its stages have worked out before they run. */
  readonly prepare: (plan: readonly Planned[], rate: number, wanted: () => boolean) => Promise<readonly Planned[]>;
  readonly tellFailure: (title: string, text: string) => void;
}

const SILENT: PlaybackState = { phase: 'silent', row: undefined };
const LEAST_LEFT = 0.01; // seconds
const WATCH = 60; // milliseconds between two looks at whether it still plays
const KEPT_CLIPS = 4;
/** Seconds of a sound that must have arrived before it plays. */
const AHEAD = 2;

/**
 * Plays rows of the Cascade live: what the whole-clip stages have made is read round the region, the live stages behind
 * them run as it plays, and every change is heard at once.
 */
export class Playback<P extends Player = LivePlayer> extends Subject<PlaybackState> {
  private readonly renderer: Pick<ChainRenderer, 'state' | 'subscribe' | 'fetchClip' | 'arrived'>;
  private readonly around: Surroundings<P>;
  private readonly forget: () => void;
  private readonly clips = new Map<number, Promise<Clip | undefined>>();
  private live: P | undefined;
  private opening: Promise<P> | undefined;
  private hearing: Hearing | undefined;
  /** The clip in use, moved to where the render is placed. */
  private moved: { readonly id: number; readonly shift: number; readonly clip: Clip } | undefined;
  /** What was last brought to the audio thread. */
  private brought: readonly unknown[] = [];
  private loops: readonly unknown[] = [];
  private update = 0;
  /** Counts what was asked for, so that a start that waits for the audio thread knows when it was stopped meanwhile. */
  private wish = 0;
  /** Seconds; where it was last. */
  private last = 0;
  private watch: ReturnType<typeof setInterval> | undefined;
  private closed = false;

  constructor(renderer: Pick<ChainRenderer, 'state' | 'subscribe' | 'fetchClip' | 'arrived'>, around: Surroundings<P>) {
    super(SILENT);
    this.renderer = renderer;
    this.around = around;
    this.forget = renderer.subscribe(() => this.follow());
  }

  /** What the audio thread shows of itself; undefined before it was first started. */
  get player(): P | undefined {
    return this.live;
  }

  /** Seconds from the source's first frame; undefined when nothing sounds. */
  get position(): number | undefined {
    if (!this.live?.playing) return undefined;
    return (this.last = this.live.position);
  }

  /** Takes over what is to be heard; changes are heard at once. */
  hear(hearing: Hearing): void {
    this.hearing = hearing;
    this.follow();
  }

  /** Plays a row, or stops it when it sounds already; while another sounds, it goes on with this one from there. */
  toggle(key: RowKey): void {
    if (this.state.row === key) this.stop();
    else if (this.state.phase === 'playing' && this.live) {
      this.set({ phase: 'playing', row: key });
      this.follow();
    } else void this.start(key);
  }

  stop(): void {
    this.wish++;
    this.live?.stop();
    this.silence();
  }

  /** Goes on from a place, in seconds from the source's first frame; begins with the render where nothing plays. */
  playFrom(seconds: number): void {
    const { start, end } = this.stretch() ?? { start: 0, end: 0 };
    // At the very end there would be nothing left to hear.
    const within = Math.max(start, Math.min(end - LEAST_LEFT, seconds));
    void this.start(this.state.row ?? 'result', Math.round(within * this.renderer.state.sampleRate));
  }

  close(): void {
    this.forget();
    this.closed = true;
    this.wish++;
    this.silence();
    this.live?.close();
    this.live = undefined;
  }

  /** What is played; undefined while the sound is not there yet. */
  private stretch(): Region | undefined {
    if (!this.hearing) return undefined;
    const { region, loop, loopTail } = this.hearing;
    return heardStretch(this.renderer.state, region, loop && !loopTail);
  }

  /** Brings what is heard up to date with the chain, the render and what was asked for. */
  private follow(): void {
    const { row, phase } = this.state;
    if (row === undefined || !this.hearing) return;
    const { state } = this.renderer;
    const { document, others, heard, loop } = this.hearing;
    const prefix = state.rows[heardPart(document, row).prefix]?.clipId;
    // A sound of another rate needs another player; it goes on from the same place.
    if (phase === 'playing' && this.live && this.live.sampleRate !== state.sampleRate && prefix !== undefined) {
      void this.start(row, Math.round((this.position ?? this.last) * state.sampleRate));
      return;
    }
    const now = [document, row, prefix, this.shift(row), this.gain(row), others, heard, state.bank];
    if (now.some((part, n) => part !== this.brought[n])) {
      this.brought = now;
      this.bring(row).catch((error: unknown) => this.tell(error));
    }
    const stretch = this.stretch();
    if (!stretch) return;
    const loops = [stretch.start, stretch.end, loop, state.sampleRate];
    if (loops.every((part, n) => part === this.loops[n])) return;
    this.loops = loops;
    const whole = this.frames(stretch);
    this.live?.setLoop(loop ? whole : undefined, loop ? Infinity : whole.end);
  }

  /** Numbers go to the audio thread at once; another clip follows when it has come. */
  private async bring(row: RowKey): Promise<void> {
    const mine = ++this.update;
    const wanted = () => mine === this.update;
    const { hearing, live } = this;
    const { state } = this.renderer;
    if (!hearing || !live) return;
    const part = heardPart(hearing.document, row);
    const id = state.rows[part.prefix]?.clipId;
    if (id === undefined) return;
    const clip = await this.takeClip(part.prefix, id, this.shift(row));
    if (!clip || !wanted() || clip.sampleRate !== live.sampleRate) return;
    const prepare = (stages: readonly Planned[]) => this.around.prepare(stages, clip.sampleRate, wanted);
    const plan = await prepare(planStages(BUILT_INS, part.chain, clip.sampleRate, state.bank));
    const beside = await Promise.all(
      hearing.others.map(async (other) => ({ ...other, plan: await prepare(other.plan) })),
    );
    if (!wanted()) return;
    this.setWork(live, row, clip, plan, part.chain);
    for (const { id: deck, ...content } of beside)
      if (content.head.sampleRate === clip.sampleRate) live.setDeck(deck, content);
    const ids = hearing.others.map((other) => other.id);
    live.keep([WORK_DECK, ...ids]);
    live.listen([...ids, NOTHING_HEARD].includes(hearing.heard) ? hearing.heard : WORK_DECK);
  }

  private async start(key: RowKey, from?: number): Promise<void> {
    const mine = ++this.wish;
    const wanted = () => mine === this.wish;
    this.set({ phase: 'starting', row: key });
    this.look();
    try {
      const { hearing } = this;
      const { state } = this.renderer;
      const stretch = this.stretch();
      const part = hearing && heardPart(hearing.document, key);
      const id = part && state.rows[part.prefix]?.clipId;
      if (!part || id === undefined || !stretch) {
        this.silence();
        this.around.tellFailure('Nothing to play yet', 'The row is still being rendered; try again in a moment.');
        return;
      }
      const live = await this.open(state.sampleRate, hearing.document);
      const clip = await this.takeClip(part.prefix, id, this.shift(key));
      if (!wanted()) return;
      const whole = this.frames(stretch);
      const begins = from ?? whole.start;
      // The sound may still be arriving; it comes faster than it plays.
      if (part.prefix === 'source') await this.renderer.arrived(begins + AHEAD * state.sampleRate);
      if (!wanted()) return;
      if (!clip) throw new Error('The sound is not there any more; choose another one.');
      const planned = planStages(BUILT_INS, part.chain, state.sampleRate, state.bank);
      const plan = await this.around.prepare(planned, state.sampleRate, wanted);
      if (!wanted()) return;
      this.setWork(live, key, clip, plan, part.chain);
      const { loop } = hearing;
      await live.play(begins, loop ? whole : undefined, loop ? Infinity : whole.end);
      if (!wanted()) return;
      this.set({ phase: 'playing', row: key });
      this.brought = [];
      this.loops = [];
      this.follow();
    } catch (error) {
      if (!wanted()) return;
      this.silence();
      this.tell(error);
    }
  }

  private setWork(live: P, row: RowKey, clip: Clip, plan: readonly Planned[], chain: ChainDocument): void {
    live.setWork({
      head: headOfClip(clip),
      plan,
      gain: this.gain(row),
      span: spanOf(clip, this.renderer.state),
      shift: this.shift(row),
      channels: chain.render.channels,
    });
  }

  /** A player at the sound's own rate. */
  private open(rate: number, document: ChainDocument): Promise<P> {
    if (this.live?.sampleRate === rate) return Promise.resolve(this.live);
    this.opening ??= this.around
      .open(rate, BUILT_INS.headOf(document.head).wantedLatency)
      .then((fresh) => {
        this.live?.close();
        this.live = this.closed ? undefined : fresh;
        if (this.closed) fresh.close();
        fresh.onFailure = (text) => {
          fresh.close();
          if (this.live === fresh) this.live = undefined;
          this.wish++;
          this.silence();
          this.around.tellFailure('Sound stopped', text);
        };
        return fresh;
      })
      .finally(() => (this.opening = undefined));
    return this.opening;
  }

  /** A row's clip, fetched once for the same content, moved to where the render is placed. */
  private async takeClip(key: RowKey, id: number, shift: number): Promise<Clip | undefined> {
    if (this.moved?.id === id && this.moved.shift === shift) return this.moved.clip;
    let coming = this.clips.get(id);
    if (!coming) {
      coming = this.renderer.fetchClip(key);
      this.clips.set(id, coming);
      for (const old of this.clips.keys()) if (this.clips.size > KEPT_CLIPS) this.clips.delete(old);
    }
    const clip = await coming;
    if (!clip) return undefined;
    this.moved = { id, shift, clip: { ...clip, origin: clip.origin + shift } };
    return this.moved.clip;
  }

  private shift(row: RowKey): number {
    return row === 'result' ? this.renderer.state.shift : 0;
  }

  private gain(row: RowKey): number {
    const { gain = 0, atLevel = false } = this.hearing ?? {};
    return gain + (row === 'result' && atLevel ? this.renderer.state.levelGain : 0);
  }

  private frames({ start, end }: Region): Stretch {
    const first = Math.round(start * this.renderer.state.sampleRate);
    return { start: first, end: Math.max(first + 1, Math.round(end * this.renderer.state.sampleRate)) };
  }

  /** The end of a sound is seen on the board; nothing calls. */
  private look(): void {
    this.watch ??= setInterval(() => {
      if (this.state.phase === 'playing' && this.live && !this.live.playing) this.silence();
    }, WATCH);
  }

  private silence(): void {
    clearInterval(this.watch);
    this.watch = undefined;
    this.set(SILENT);
  }

  private tell(error: unknown): void {
    this.around.tellFailure('Cannot play', error instanceof Error ? error.message : String(error));
  }
}

/** Where the source lies in a clip: as a stage has said, or where it was from the first. */
function spanOf(clip: Clip, { sourceFrames }: CascadeState): Span {
  return clip.span ?? { start: 0, end: sourceFrames };
}
