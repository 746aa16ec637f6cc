import type { Clip } from '@hexenkessel/core/model';
import type { SoundLoop } from '@hexenkessel/core/formats';

/** Plays a sound as a sampler does: round the sustain loop while it is held, then on, and round the release loop. */
export class LoopPlayer {
  private context: AudioContext | undefined;
  private node: AudioBufferSourceNode | undefined;

  /** Begins at the clip's first frame. `onEnd` is called when it has come to its end by itself. */
  hold(clip: Clip, loops: readonly SoundLoop[], onEnd: () => void): void {
    this.stop();
    const context = (this.context ??= new AudioContext());
    const buffer = context.createBuffer(clip.channels.length, clip.channels[0].length, clip.sampleRate);
    clip.channels.forEach((samples, c) => buffer.copyToChannel(samples as Float32Array<ArrayBuffer>, c));
    const node = new AudioBufferSourceNode(context, { buffer });
    const sustain = loops.find(({ kind }) => kind === 'sustain');
    if (sustain) {
      node.loop = true;
      node.loopStart = sustain.start / clip.sampleRate;
      node.loopEnd = sustain.end / clip.sampleRate;
    }
    node.connect(context.destination);
    node.onended = () => {
      if (this.node === node) this.node = undefined;
      onEnd();
    };
    node.start();
    this.node = node;
  }

  /** Lets go: it plays on from where it is, into the release loop if there is one. */
  release(clip: Clip, loops: readonly SoundLoop[]): void {
    if (!this.node) return;
    const release = loops.find(({ kind }) => kind === 'release');
    if (release) {
      this.node.loop = true;
      this.node.loopStart = release.start / clip.sampleRate;
      this.node.loopEnd = release.end / clip.sampleRate;
      if (release.times > 0) {
        const once = (release.end - release.start) / clip.sampleRate;
        const rest = clip.channels[0].length / clip.sampleRate;
        this.node.stop(this.node.context.currentTime + Math.min(3600, rest + release.times * once));
      }
    } else this.node.loop = false;
  }

  stop(): void {
    this.node?.stop();
    this.node?.disconnect();
    this.node = undefined;
  }

  close(): void {
    this.stop();
    void this.context?.close();
    this.context = undefined;
  }
}
