import { smoothStep } from '../../dsp/smoothStep.ts';
import type { Clip } from '../clip.ts';

/** Seconds of every crossfade in reading: round a loop, to another place, to another clip. */
const FADE_SECONDS = 0.006;

/**
 * Reads a clip along a moving play head. Wherever what is read would jump – the loop goes round, the head is put
 * elsewhere, the clip is exchanged – what would have come next fades out under what comes now.
 */
export class ClipVoice {
  readonly output: Float32Array[];
  private clip: Clip;
  private leaving: Clip;
  private leavingPlace = 0;
  private faded: number;
  private readonly fadeFrames: number;

  constructor(clip: Clip, blockFrames: number) {
    this.clip = clip;
    this.leaving = clip;
    this.output = clip.channels.map(() => new Float32Array(blockFrames));
    this.fadeFrames = Math.max(1, Math.round(FADE_SECONDS * clip.sampleRate));
    this.faded = this.fadeFrames;
  }

  /** Puts another clip with as many channels in its place. */
  exchange(clip: Clip, head: number): void {
    this.leaving = this.clip;
    this.leavingPlace = head;
    this.clip = clip;
    this.faded = 0;
  }

  /** Begins at once with what is asked for next: nothing sounds that would have to fade out. */
  settle(): void {
    this.faded = this.fadeFrames;
  }

  /** Tells that the head, which would have gone on at `place`, does not. */
  jump(place: number): void {
    this.leaving = this.clip;
    this.leavingPlace = place;
    this.faded = 0;
  }

  /** Fills output[offset, offset + frames) with what lies from `head` on; both count from the source's first frame. */
  read(head: number, offset: number, frames: number): void {
    for (let c = 0; c < this.output.length; c++) {
      const out = this.output[c];
      const samples = this.clip.channels[c];
      const from = head - this.clip.origin;
      for (let i = 0; i < frames; i++) {
        const at = from + i;
        out[offset + i] = at >= 0 && at < samples.length ? samples[at] : 0;
      }
      if (this.faded >= this.fadeFrames) continue;
      const old = this.leaving.channels[c];
      const oldFrom = this.leavingPlace - this.leaving.origin;
      for (let i = 0; i < frames; i++) {
        const at = oldFrom + i;
        const before = at >= 0 && at < old.length ? old[at] : 0;
        out[offset + i] = before + smoothStep((this.faded + i) / this.fadeFrames) * (out[offset + i] - before);
      }
    }
    this.faded += frames;
    this.leavingPlace += frames;
  }
}
