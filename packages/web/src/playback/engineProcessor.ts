/** The live engine in the browser's audio thread, fed by messages and shared memory. */
import type { Catalogue } from '@hexenkessel/core/stages';
import { BOARD, LiveEngine, LiveMeters, SettingsReader } from '@hexenkessel/core/live';
import { PROCESSOR_NAME, UNREADABLE, WORK_DECK, type EngineMemory, type EngineMessage } from './engineMessages.ts';

declare abstract class AudioWorkletProcessor {
  readonly port: MessagePort;
}
declare function registerProcessor(name: string, processor: unknown): void;
declare const sampleRate: number;

/** Makes the engine known to the audio thread, with the stages and heads that it is to know. */
export function registerEngine(catalogue: Catalogue): void {
  class WithCatalogue extends EngineProcessor {
    constructor(options: { processorOptions: EngineMemory }) {
      super(catalogue, options);
    }
  }
  registerProcessor(PROCESSOR_NAME, WithCatalogue);
}

class EngineProcessor extends AudioWorkletProcessor {
  private readonly engine: LiveEngine;
  /** Frames from what is put out until it sounds. */
  private deviceFrames = 0;
  private readonly meters: LiveMeters;
  private readonly board: Float64Array;
  private readonly settings: SettingsReader;
  private readonly clock: () => number;
  private plan = 0;
  private turn = 0;

  constructor(catalogue: Catalogue, { processorOptions }: { processorOptions: EngineMemory }) {
    super();
    const clock = new Int32Array(processorOptions.clock);
    this.clock = () => Atomics.load(clock, 0);
    this.board = new Float64Array(processorOptions.board);
    this.engine = new LiveEngine(catalogue, sampleRate, this.clock);
    this.meters = new LiveMeters(this.board, sampleRate);
    this.settings = new SettingsReader(processorOptions.settings);
    // Not every browser sends modules to this thread.
    this.port.onmessageerror = () => this.port.postMessage(UNREADABLE);
    this.port.onmessage = (event: MessageEvent<EngineMessage>) => this.take(event.data);
  }

  /** Between blocks: here memory may be taken. */
  private take(message: EngineMessage): void {
    const { engine } = this;
    switch (message.type) {
      case 'deck':
        engine.update(message.id, message.content);
        if (message.id === WORK_DECK) this.plan = message.number;
        break;
      case 'plan':
        engine.replan(message.id, message.plan);
        if (message.id === WORK_DECK) this.plan = message.number;
        break;
      case 'finish':
        engine.deck(message.id)?.setGain(message.gain);
        engine.deck(message.id)?.setChannels(message.channels);
        break;
      case 'unload':
        engine.unload(message.id);
        break;
      case 'listen':
        engine.listen(message.id);
        break;
      case 'play':
        this.meters.reset();
        this.deviceFrames = Math.round(message.deviceLatency * sampleRate);
        engine.play(message.from, message.loop, message.end);
        this.turn = message.turn;
        break;
      case 'loop':
        engine.setLoop(message.loop, message.end);
        break;
      case 'stop':
        engine.stop();
        break;
      case 'resetMeters':
        this.meters.reset();
    }
  }

  process(_inputs: Float32Array[][], [output]: Float32Array[][]): boolean {
    const { engine, board } = this;
    const began = this.clock();
    const frames = output[0].length;
    if (this.settings.read(this.plan)) engine.deck(WORK_DECK)?.section.setValues(this.settings.numbers, 0);
    engine.process(output[0], output[1], frames);
    const heard = engine.heard;
    if (heard) this.meters.stages(heard.section);
    this.meters.process(output, frames, Math.max(0, this.clock() - began));
    board[BOARD.head] = engine.soundingAt(this.deviceFrames);
    board[BOARD.playing] = engine.playing ? 1 : 0;
    board[BOARD.turn] = this.turn;
    board[BOARD.changing] = heard?.section.changing === true ? 1 : 0;
    board[BOARD.plan] = this.plan;
    return true;
  }
}
