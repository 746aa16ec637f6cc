import { BUILT_INS, type PlannedHead } from '@hexenkessel/core/stages';
import type { RenderChannels } from '@hexenkessel/core/chain';
import { contentKey, flatValues, shapeOf, type Planned } from '@hexenkessel/core/engine';
import { BOARD, SettingsWriter, createMeterBoard, createSharedSettings, type Stretch } from '@hexenkessel/core/live';
import {
  PROCESSOR_NAME,
  UNREADABLE,
  WORK_DECK,
  type DeckMessage,
  type EngineMemory,
  type EngineMessage,
} from './engineMessages.ts';
import workletUrl from './engineWorklet.ts?worker&url';

/** Seconds between a change and its sound, where a head asks for no other: short enough to turn a value by ear, long enough
 * for a busy page. */
const LATENCY = 0.04;
/** Milliseconds to wait for the browser to let the page sound. */
const PATIENCE = 2500;
/** Milliseconds in which the engine has surely faded out. */
const FADE_OUT = 80;
/** Milliseconds between two looks at whether a change of the arrangement is over. */
const LOOK_AGAIN = 15;

export type Work = DeckMessage;

/** What the audio thread has of a deck. */
interface Loaded {
  readonly head: PlannedHead;
  readonly shape: string;
  readonly gain: number;
  readonly channels: RenderChannels;
}

const loadedOf = ({ head, gain, channels }: DeckMessage, shape: string): Loaded => ({ head, shape, gain, channels });
/** True when both give the same sound: a clip counts by its identity, all else is small. */
const sameHead = ({ clip: a, ...one }: PlannedHead, { clip: b, ...other }: PlannedHead) =>
  a === b && JSON.stringify(one) === JSON.stringify(other);
const finishedAlike = (a: Loaded, b: DeckMessage) => a.gain === b.gain && a.channels === b.channels;

/**
 * The page's end of the live engine. One lives as long as sounds of its sample rate are played: the engine runs at the
 * sound's own rate, so that what is heard is what is rendered.
 */
export class LivePlayer {
  readonly sampleRate: number;
  readonly board: Float64Array;
  /** Called when the audio thread or the device gives up. */
  onFailure: (text: string) => void = () => undefined;
  private readonly context: AudioContext;
  private readonly node: AudioWorkletNode;
  private readonly settings: SettingsWriter;
  private readonly clock: Int32Array;
  private readonly decks = new Map<string, Loaded>();
  /** What was sent last of each deck, and which is listened to. */
  private readonly sent = new Map<string, Extract<EngineMessage, { type: 'deck' }>>();
  private listened = WORK_DECK;
  /** Takes modules out of plans, once it has turned out that none can be sent. */
  private bare: ((plan: readonly Planned[]) => readonly Planned[]) | undefined;
  private planNumber = 0;
  private turn = 0;
  /** Frame that the newest turn begins at. */
  private from = 0;
  private asked = 0;
  private waiting: Work | undefined;

  private constructor(context: AudioContext, memory: EngineMemory) {
    this.context = context;
    this.sampleRate = context.sampleRate;
    this.board = new Float64Array(memory.board);
    this.settings = new SettingsWriter(memory.settings);
    this.clock = new Int32Array(memory.clock);
    this.node = new AudioWorkletNode(context, PROCESSOR_NAME, {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions: memory,
    });
    this.node.onprocessorerror = () =>
      this.onFailure('The audio engine stopped over a fault in itself. Press play to start it again.');
    this.node.port.onmessage = ({ data }) => {
      if (data === UNREADABLE) void this.sendBare();
    };
    this.context.addEventListener('error', () =>
      this.onFailure('The audio device was lost. Connect one and press play; everything else goes on working.'),
    );
    this.context.addEventListener('statechange', () => {
      // Taken away by the browser or the device, not closed by us.
      if (this.playing && this.context.state !== 'running' && this.context.state !== 'closed')
        this.resume().catch((error: Error) => this.onFailure(error.message));
    });
    this.node.connect(context.destination);
  }

  /** Starts the audio thread. Rejects with what can be done when the browser gives no sound or cannot load the engine. */
  static async open(sampleRate: number, latency = LATENCY): Promise<LivePlayer> {
    if (typeof AudioWorkletNode === 'undefined' || typeof SharedArrayBuffer === 'undefined')
      throw new Error(
        'This browser gives the page no audio thread or no shared memory. Open it over http://127.0.0.1 or https in a current browser.',
      );
    const context = new AudioContext({ sampleRate, latencyHint: latency });
    try {
      await context.audioWorklet.addModule(workletUrl).catch((error: unknown) => {
        throw new Error(`The audio engine could not be loaded (${String(error)}). Reload the page to try again.`);
      });
      const clock = new SharedArrayBuffer(8);
      const thread = new Worker(new URL('./clockWorker.ts', import.meta.url), { type: 'module' });
      thread.postMessage(clock);
      return new LivePlayer(context, { board: createMeterBoard(), settings: createSharedSettings(), clock });
    } catch (error) {
      void context.close();
      throw error;
    }
  }

  /** True from the moment that playing was asked for until its last sound. */
  get playing(): boolean {
    return this.board[BOARD.playing] === 1 || this.board[BOARD.turn] !== this.turn;
  }

  /** Where it is now, in seconds from the source's first frame; until it sounds, where it will begin. */
  get position(): number {
    const frame = this.board[BOARD.turn] === this.turn ? this.board[BOARD.head] : this.from;
    return frame / this.sampleRate;
  }

  /** Seconds from what is put out until it sounds, as far as the browser knows. */
  get deviceLatency(): number {
    return (this.context.outputLatency as number | undefined) ?? 0;
  }

  /** How often the device ran dry, as far as the browser counts it. */
  get underruns(): number | undefined {
    return (this.context as { playbackStats?: { underrunEvents: number } }).playbackStats?.underrunEvents;
  }

  /** Puts the chain being worked on in place, sending no more than what has changed. */
  setWork(work: Work): void {
    const before = this.decks.get(WORK_DECK);
    const shape = shapeOf(BUILT_INS, work.plan);
    if (!before || !sameHead(before.head, work.head) || before.shape !== shape) {
      if (this.changing) {
        this.wait(work);
        return;
      }
      this.decks.set(WORK_DECK, loadedOf(work, shape));
      const number = ++this.planNumber;
      this.sendDeck(WORK_DECK, number, work, before !== undefined && sameHead(before.head, work.head));
    }
    this.waiting = undefined;
    this.settings.write(this.planNumber, flatValues(work.plan));
    if (before && !finishedAlike(before, work)) {
      this.send({ type: 'finish', id: WORK_DECK, gain: work.gain, channels: work.channels });
      this.decks.set(WORK_DECK, loadedOf(work, shape));
    }
  }

  /** Puts something else to listen to beside it. */
  setDeck(id: string, content: DeckMessage): void {
    const before = this.decks.get(id);
    const shape = content.plan.map(contentKey).join();
    if (before && sameHead(before.head, content.head) && before.shape === shape) {
      if (!finishedAlike(before, content))
        this.send({ type: 'finish', id, gain: content.gain, channels: content.channels });
    } else this.sendDeck(id, 0, content, false);
    this.decks.set(id, loadedOf(content, shape));
  }

  /** Takes away all decks but these. */
  keep(ids: readonly string[]): void {
    for (const id of this.decks.keys()) {
      if (ids.includes(id)) continue;
      this.decks.delete(id);
      this.sent.delete(id);
      this.send({ type: 'unload', id });
    }
  }

  listen(id: string): void {
    this.listened = id;
    this.send({ type: 'listen', id });
  }

  /** Plays from a frame on, unless stopped before the browser gives sound. Rejects when it lets the page make none. */
  async play(from: number, loop: Stretch | undefined, end: number): Promise<void> {
    const mine = ++this.asked;
    await this.resume();
    if (mine !== this.asked) return;
    const { deviceLatency } = this;
    this.from = from;
    this.send({ type: 'play', turn: ++this.turn, from, loop, end, deviceLatency });
  }

  setLoop(loop: Stretch | undefined, end: number): void {
    this.send({ type: 'loop', loop, end });
  }

  stop(): void {
    this.asked++;
    this.send({ type: 'stop' });
  }

  resetMeters(): void {
    this.send({ type: 'resetMeters' });
  }

  /** Falls silent as after a stop, and is gone then. */
  close(): void {
    this.stop();
    setTimeout(() => {
      Atomics.store(this.clock, 1, 1);
      this.node.disconnect();
      void this.context.close();
    }, FADE_OUT);
  }

  private async resume(): Promise<void> {
    if (this.context.state === 'running') return;
    await Promise.race([this.context.resume(), new Promise((resolve) => setTimeout(resolve, PATIENCE))]);
    if ((this.context.state as AudioContextState) === 'running') return;
    throw new Error(
      navigator.userActivation?.hasBeenActive === false
        ? 'The browser does not let this page sound yet; click anywhere in it and press play again.'
        : 'The browser gives no sound: there is no audio device, or another program holds it. Connect one and press play again.',
    );
  }

  private get changing(): boolean {
    return this.playing && (this.board[BOARD.changing] === 1 || this.board[BOARD.plan] !== this.planNumber);
  }

  /** A change of the arrangement waits until the last one has been heard to its end; the newest counts. */
  private wait(work: Work): void {
    const alreadyWaiting = this.waiting !== undefined;
    this.waiting = work;
    if (alreadyWaiting) return;
    const look = () => {
      if (!this.waiting) return;
      if (this.changing) setTimeout(look, LOOK_AGAIN);
      else this.setWork(this.waiting);
    };
    setTimeout(look, LOOK_AGAIN);
  }

  /** A deck, or its plan alone where the audio thread has the rest. */
  private sendDeck(id: string, number: number, content: DeckMessage, planOnly: boolean): void {
    this.sent.set(id, { type: 'deck', id, number, content });
    const plan = this.bare ? this.bare(content.plan) : content.plan;
    this.send(
      planOnly ? { type: 'plan', id, number, plan } : { type: 'deck', id, number, content: { ...content, plan } },
    );
  }

  /** Sends again what did not arrive, without modules. */
  private async sendBare(): Promise<void> {
    if (this.bare) return;
    const { withoutModules } = await import('./withoutModules.ts');
    this.bare = withoutModules;
    for (const { id, number, content } of this.sent.values()) this.sendDeck(id, number, content, false);
    this.send({ type: 'listen', id: this.listened });
  }

  private send(message: EngineMessage): void {
    this.node.port.postMessage(message);
  }
}
