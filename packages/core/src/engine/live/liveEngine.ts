import type { Catalogue } from '../../catalogue/catalogue.ts';
import { smoothStep } from '../../dsp/smoothStep.ts';
import { BLOCK_FRAMES } from '../../model/block.ts';
import type { Planned } from '../plan/planned.ts';
import { UNWATCHED, type Watch } from '../run/watch.ts';
import { Deck, type DeckContent } from './deck.ts';

/** Seconds in which sound comes when play is pressed, and goes when it is stopped. */
const GATE_SECONDS = 0.01;

/** A stretch in frames from the source's first. */
export interface Stretch {
  readonly start: number;
  readonly end: number;
}

/**
 * Plays decks along one play head, one of them heard at a time. Everything that is loaded runs along, so a switch between
 * two decks finds both in full swing; and all are as late as the latest, so it finds both at the same place. A stage that throws is silenced, and the rest plays on. Methods allocate and are called between blocks; `process` does not.
 */
export class LiveEngine {
  readonly sampleRate: number;
  /** The next frame that will be read, counted from the source's first. */
  head = 0;
  private readonly decks = new Map<string, Deck>();
  /** The same decks, to be walked without an iterator. */
  private running: Deck[] = [];
  private heardDeck: Deck | undefined;
  private loop: Stretch | undefined;
  /** True once the loop has gone round. */
  private round = false;
  /** Where it began to play. */
  private began = 0;
  private end = Infinity;
  private gate = 0;
  private open = false;
  private readonly gateFrames: number;
  private readonly watch: Watch;
  private readonly catalogue: Catalogue;

  constructor(catalogue: Catalogue, sampleRate: number, clock = UNWATCHED.clock) {
    this.catalogue = catalogue;
    this.watch = { clock, silencesFaults: true };
    this.sampleRate = sampleRate;
    this.gateFrames = Math.round(GATE_SECONDS * sampleRate);
  }

  /** True until the sound of the last block of a stop has gone. */
  get playing(): boolean {
    return this.open || this.gate > 0;
  }

  get heard(): Deck | undefined {
    return this.heardDeck;
  }

  /** The frame that is heard now, when what is put out takes `device` frames more until it sounds. */
  soundingAt(device: number): number {
    const { loop } = this;
    // What was put out before it began is silence.
    const place = Math.max(this.round ? -Infinity : this.began, this.head - this.latency - device);
    if (!loop || !this.round || place >= loop.start) return place;
    const length = loop.end - loop.start;
    return place + length * Math.ceil((loop.start - place) / length);
  }

  /** Frames by which every deck is late: the latency of the latest. */
  get latency(): number {
    let most = 0;
    for (let d = 0; d < this.running.length; d++) most = Math.max(most, this.running[d].latency);
    return most;
  }

  deck(id: string): Deck | undefined {
    return this.decks.get(id);
  }

  /** Puts a deck in place. Another one of that name, if heard, is faded out under it. */
  load(id: string, content: DeckContent): void {
    const before = this.decks.get(id);
    const deck = new Deck(this.catalogue, content, this.watch);
    this.decks.set(id, deck);
    this.running.push(deck);
    if (before && before === this.heardDeck) this.hear(deck);
    else before?.listen(false, true);
    this.sweep();
  }

  /** Exchanges a deck's head and plan as far as it can run on, or else loads it anew. */
  update(id: string, content: DeckContent): void {
    const deck = this.decks.get(id);
    if (!deck?.canTake(content) || !deck.voice.exchange(content.head, this.head)) {
      this.load(id, content);
      return;
    }
    this.replan(id, content.plan);
    deck.setGain(content.gain);
    deck.setChannels(content.channels);
  }

  replan(id: string, plan: readonly Planned[]): void {
    this.decks.get(id)?.section.update(plan);
  }

  unload(id: string): void {
    const deck = this.decks.get(id);
    if (!deck) return;
    this.decks.delete(id);
    deck.listen(false);
    if (deck === this.heardDeck) this.heardDeck = undefined;
    this.sweep();
  }

  /** Lets one deck be heard instead of the one before; an id of none lets nothing be heard. */
  listen(id: string): void {
    const deck = this.decks.get(id);
    if (!deck) {
      this.heardDeck?.listen(false, !this.playing);
      this.heardDeck = undefined;
    } else if (deck !== this.heardDeck) this.hear(deck);
    this.sweep();
  }

  /** Plays from a frame on, round the loop, or to the end. */
  play(from: number, loop: Stretch | undefined, end: number): void {
    if (this.playing) {
      this.jump(from);
    } else {
      this.head = from;
      for (const deck of this.running) deck.reset();
    }
    this.loop = loop;
    this.end = end;
    this.round = false;
    this.began = from;
    this.open = true;
  }

  setLoop(loop: Stretch | undefined, end: number): void {
    this.loop = loop;
    this.end = end;
    if (loop && (this.head < loop.start || this.head >= loop.end)) this.jump(loop.start);
  }

  stop(): void {
    this.open = false;
  }

  /** Writes `frames` ≤ BLOCK_FRAMES frames. Allocates nothing. */
  process(left: Float32Array, right: Float32Array, frames: number): void {
    for (let i = 0; i < frames; i++) {
      left[i] = 0;
      right[i] = 0;
    }
    if (!this.open && this.gate === 0) {
      for (let d = 0; d < this.running.length; d++) this.running[d].section.rest();
      return;
    }
    const position = this.head;
    const { latency } = this;
    this.read(frames, latency);
    for (let d = 0; d < this.running.length; d++) this.running[d].process(left, right, frames, position, latency);
    this.passGate(left, right, frames);
  }

  private hear(deck: Deck): void {
    const atOnce = !this.playing;
    this.heardDeck?.listen(false, atOnce);
    deck.listen(true, atOnce);
    this.heardDeck = deck;
  }

  /** Forgets decks that are gone and have fallen silent. */
  private sweep(): void {
    const named = new Set(this.decks.values());
    this.running = this.running.filter((deck) => named.has(deck) || !deck.silent);
  }

  private jump(to: number): void {
    for (let d = 0; d < this.running.length; d++) this.running[d].voice.jump(this.head);
    this.head = to;
  }

  /** Reads the block's frames into every voice, in pieces where the loop goes round. */
  private read(frames: number, latency: number): void {
    const { loop } = this;
    for (let done = 0; done < frames;) {
      if (loop && this.head >= loop.end) {
        this.jump(loop.start);
        this.round = true;
      }
      const room = loop ? loop.end - this.head : frames;
      const count = Math.min(frames - done, Math.max(1, room));
      for (let d = 0; d < this.running.length; d++) this.running[d].voice.read(this.head, done, count);
      this.head += count;
      done += count;
    }
    // What was read last is still on its way.
    if (!loop && this.head >= this.end + latency) this.open = false;
  }

  private passGate(left: Float32Array, right: Float32Array, frames: number): void {
    if (this.open && this.gate === this.gateFrames) return;
    const step = this.open ? 1 : -1;
    for (let i = 0; i < frames; i++) {
      const share = smoothStep((this.gate + step * i) / this.gateFrames);
      left[i] *= share;
      right[i] *= share;
    }
    this.gate = Math.max(0, Math.min(this.gateFrames, this.gate + step * frames));
  }
}

/**
 * What is heard while a stretch is played round and round, once it has settled: one round after `warmUp` others. For
 * measuring how loud a loop is.
 */
export function* captureLoop(
  catalogue: Catalogue,
  content: DeckContent,
  loop: Stretch,
  warmUp = 1,
): Generator<void, { readonly sampleRate: number; readonly origin: number; readonly channels: Float32Array[] }, void> {
  const engine = new LiveEngine(catalogue, content.head.sampleRate);
  engine.load('loop', content);
  engine.listen('loop');
  engine.play(loop.start, loop, Infinity);
  const frames = loop.end - loop.start;
  const channels = [new Float32Array(frames), new Float32Array(frames)];
  const left = new Float32Array(BLOCK_FRAMES);
  const right = new Float32Array(BLOCK_FRAMES);
  const total = frames * (warmUp + 1);
  for (let at = 0, blocks = 0; at < total; at += BLOCK_FRAMES) {
    engine.process(left, right, BLOCK_FRAMES);
    for (let i = 0; i < BLOCK_FRAMES; i++) {
      const place = at + i - frames * warmUp;
      if (place < 0 || place >= frames) continue;
      channels[0][place] = left[i];
      channels[1][place] = right[i];
    }
    if (++blocks % 32 === 0) yield;
  }
  return { sampleRate: content.head.sampleRate, origin: loop.start, channels };
}
