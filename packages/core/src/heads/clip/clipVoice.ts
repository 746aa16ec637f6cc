import { smoothStep } from '../../dsp/smoothStep.ts';
import { clipEnd, type Clip } from '../../model/clip.ts';
import type { HeadVoice, PlannedHead } from '../contract.ts';

/** Seconds of every crossfade in reading: round a loop, to another place, to another clip. */
const FADE_SECONDS = 0.006;

/** Frames either side of a seam whose largest step tells how far the next may go, and how much further it may. */
const SEAM_FRAMES = 64;
const SEAM_SLACK = 1.5;

/**
 * Reads a clip along a moving play head. Wherever what is read would jump – the loop goes round, the head is put
 * elsewhere, the clip is exchanged – what would have come next fades out under what comes now. At the end of a clip
 * nothing comes next: where its last sample leads over into its beginning it goes on there, as a loop should; where it does
 * not, the step between the two is taken back and let go over the length of a fade.
 */
export class ClipVoice implements HeadVoice {
  readonly output: Float32Array[];
  readonly latency = 0;
  private clip: Clip;
  private leaving: Clip;
  private leavingPlace = 0;
  private faded: number;
  private readonly fadeFrames: number;
  /** True when the fade begins at the clip's end; the steps that are taken back there, a channel each. */
  private seam = false;
  private readonly steps: Float64Array;

  constructor(clip: Clip, blockFrames: number) {
    this.clip = clip;
    this.leaving = clip;
    this.output = clip.channels.map(() => new Float32Array(blockFrames));
    this.steps = new Float64Array(clip.channels.length);
    this.fadeFrames = Math.max(1, Math.round(FADE_SECONDS * clip.sampleRate));
    this.faded = this.fadeFrames;
  }

  /** Only a clip with as many channels. */
  exchange({ clip }: PlannedHead, place: number): boolean {
    if (clip?.channels.length !== this.output.length) return false;
    if (clip === this.clip) return true;
    this.leaving = this.clip;
    this.leavingPlace = place;
    this.clip = clip;
    this.faded = 0;
    this.seam = false;
    return true;
  }

  settle(): void {
    this.faded = this.fadeFrames;
  }

  jump(place: number): void {
    this.leaving = this.clip;
    this.leavingPlace = place;
    this.faded = 0;
    this.seam = place === clipEnd(this.clip);
  }

  /** Places count from the source's first frame. */
  read(place: number, offset: number, frames: number): void {
    for (let c = 0; c < this.output.length; c++) {
      const out = this.output[c];
      const samples = this.clip.channels[c];
      const from = place - this.clip.origin;
      for (let i = 0; i < frames; i++) {
        const at = from + i;
        out[offset + i] = at >= 0 && at < samples.length ? samples[at] : 0;
      }
      if (this.faded >= this.fadeFrames) continue;
      if (this.seam) {
        if (this.faded === 0) this.steps[c] = seamStep(samples, from);
        const step = this.steps[c];
        for (let i = 0; i < frames; i++) out[offset + i] += step * (1 - smoothStep((this.faded + i) / this.fadeFrames));
        continue;
      }
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

/** How far the last sample lies from the one at `to`, or 0 where that is no further than the sound goes there anyway. */
function seamStep(samples: Float32Array, to: number): number {
  if (to < 0 || to >= samples.length) return 0;
  const end = samples.length;
  let most = 0;
  for (let i = 1; i < SEAM_FRAMES; i++) {
    if (end - i - 1 >= 0) most = Math.max(most, Math.abs(samples[end - i] - samples[end - i - 1]));
    if (to + i < end) most = Math.max(most, Math.abs(samples[to + i] - samples[to + i - 1]));
  }
  const step = samples[end - 1] - samples[to];
  return Math.abs(step) <= SEAM_SLACK * most ? 0 : step;
}
