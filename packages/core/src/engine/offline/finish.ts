/** What is done to a render last: as many channels as the chain says, brought to a level. */
import { MeasureStream } from '../../analysis/measure.ts';
import type { RenderChannels, RenderLevel, RenderSettings } from '../../chain/schema.ts';
import { decibelsToGain } from '../../dsp/portableMath.ts';
import { frameCount, type Clip } from '../../model/clip.ts';

/** Channels that a render has when `count` come out of its stages. */
export function channelsOfRender(channels: RenderChannels, count: number): number {
  return { 'as they come': count, mono: 1, stereo: 2 }[channels];
}

/** One channel is both sides of two; two become their mean. */
export function toChannels(channels: readonly Float32Array[], wanted: RenderChannels): readonly Float32Array[] {
  const count = channelsOfRender(wanted, channels.length);
  if (count === channels.length) return channels;
  if (count === 2) return [channels[0], channels[0].slice()];
  const [left, right] = channels;
  return [left.map((sample, i) => 0.5 * (sample + right[i]))];
}

/** dB that bring a sound of this peak, in dBFS, and loudness, in LUFS, to a level. Silence is left alone. */
export function levelGain(
  level: RenderLevel,
  { peak, loudness }: { readonly peak: number; readonly loudness: number },
): number {
  if (level.mode === 'none' || peak === -Infinity) return 0;
  if (level.mode === 'peak') return level.to - peak;
  // Louder than full scale is never what is wanted of a file.
  return loudness === -Infinity ? 0 : Math.min(level.to - loudness, -peak);
}

/** A render with the channels and the level that its chain asks for. */
export function finishClip(clip: Clip, { channels, level }: RenderSettings): Clip {
  const fitted = toChannels(clip.channels, channels);
  const gain = gainFor(fitted, clip, level);
  if (fitted === clip.channels && gain === 0) return clip;
  const factor = decibelsToGain(gain);
  return { ...clip, channels: gain === 0 ? fitted : fitted.map((samples) => samples.map((x) => x * factor)) };
}

/** dB that `finishClip` brings a render to its level with. */
export function gainOfFinish(clip: Clip, { channels, level }: RenderSettings): number {
  return gainFor(toChannels(clip.channels, channels), clip, level);
}

function gainFor(channels: readonly Float32Array[], clip: Clip, level: RenderLevel): number {
  if (level.mode === 'none') return 0;
  const meter = new MeasureStream(clip.sampleRate, channels.length, false);
  meter.process(channels, frameCount(clip));
  return levelGain(level, meter.finish());
}
