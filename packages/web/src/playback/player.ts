import type { PlayableClip } from '../cascade/renderWorker.ts';

/**
 * Plays one clip at a time. Times are seconds on the Cascade's ruler: from the source's first frame, negative before it.
 */
export class Player {
  private context: AudioContext | undefined;
  private node: AudioBufferSourceNode | undefined;
  private clipStart = 0;
  private startedAt = 0;
  private startedFrom = 0;
  private loop: { start: number; end: number } | undefined;
  private onEnd: (() => void) | undefined;

  get playing(): boolean {
    return this.node !== undefined;
  }

  /** Where it is now; undefined when nothing plays. */
  get position(): number | undefined {
    if (!this.node || !this.context) return undefined;
    const elapsed = this.context.currentTime - this.startedAt;
    let place = this.startedFrom + elapsed;
    if (this.loop && place > this.loop.end) {
      const length = this.loop.end - this.loop.start;
      place = this.loop.start + ((place - this.loop.start) % length);
    }
    return this.clipStart + place;
  }

  /**
   * Plays a clip from `from` on, round a loop if given, else to `until` or its end. Rejects when the browser gives no
   * sound, with what can be done about it.
   */
  async play(
    clip: PlayableClip,
    options: {
      from: number;
      until?: number | undefined;
      loop?: { start: number; end: number } | undefined;
      onEnd: () => void;
    },
  ): Promise<void> {
    this.stop();
    this.context ??= new AudioContext();
    if (this.context.state === 'suspended') await this.context.resume();
    if (this.context.state !== 'running') {
      throw new Error('The browser does not let this page sound yet; click anywhere in it and press play again.');
    }
    const { sampleRate, channels } = clip;
    const buffer = this.context.createBuffer(channels.length, channels[0].length, sampleRate);
    channels.forEach((samples, c) => buffer.copyToChannel(samples as Float32Array<ArrayBuffer>, c));
    const node = new AudioBufferSourceNode(this.context, { buffer });
    node.connect(this.context.destination);
    this.clipStart = clip.origin / sampleRate;
    const inside = (time: number) => Math.max(0, Math.min(buffer.duration, time - this.clipStart));
    this.loop = undefined;
    if (options.loop && inside(options.loop.end) - inside(options.loop.start) > 0.01) {
      this.loop = { start: inside(options.loop.start), end: inside(options.loop.end) };
      node.loop = true;
      node.loopStart = this.loop.start;
      node.loopEnd = this.loop.end;
    }
    const from = inside(options.from);
    this.node = node;
    this.onEnd = options.onEnd;
    node.onended = () => {
      if (this.node === node) this.finish();
    };
    this.startedFrom = from;
    this.startedAt = this.context.currentTime;
    if (!this.loop && options.until !== undefined) node.start(0, from, Math.max(0, inside(options.until) - from));
    else node.start(0, from);
  }

  stop(): void {
    const node = this.node;
    if (!node) return;
    this.finish();
    node.onended = null;
    node.stop();
    node.disconnect();
  }

  private finish(): void {
    this.node = undefined;
    this.onEnd?.();
    this.onEnd = undefined;
  }

  close(): void {
    this.stop();
    void this.context?.close();
    this.context = undefined;
  }
}
