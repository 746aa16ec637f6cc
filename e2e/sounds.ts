/** A sound that nothing in the application was tuned on, and instruments to measure files with, apart from the core. */

export const RATE = 44100;
/** The first frame that sounds. */
export const ONSET = 9321;

/** A stereo 16-bit WAV file: silence, then three falling tones with a hard start. */
export function testSound(): Buffer {
  const frames = 3 * RATE;
  const bytes = Buffer.alloc(44 + frames * 4);
  bytes.write('RIFF', 0);
  bytes.writeUInt32LE(36 + frames * 4, 4);
  bytes.write('WAVEfmt ', 8);
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(2, 22);
  bytes.writeUInt32LE(RATE, 24);
  bytes.writeUInt32LE(RATE * 4, 28);
  bytes.writeUInt16LE(4, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.write('data', 36);
  bytes.writeUInt32LE(frames * 4, 40);
  for (let i = ONSET; i < frames; i++) {
    const t = (i - ONSET) / RATE;
    const tone = Math.exp(-2 * (t % 0.7)) * Math.cos(2 * Math.PI * (500 - 90 * Math.floor(t / 0.7)) * t);
    bytes.writeInt16LE(Math.round(15000 * tone), 44 + i * 4);
    bytes.writeInt16LE(Math.round(12000 * tone), 46 + i * 4);
  }
  return bytes;
}

/** Two seconds of 1 kHz at a quarter of full scale, mono. */
export function steadyTone(): Buffer {
  const frames = 2 * RATE;
  const bytes = Buffer.alloc(44 + frames * 2);
  testSound().copy(bytes, 0, 0, 44);
  bytes.writeUInt32LE(36 + frames * 2, 4);
  bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(RATE * 2, 28);
  bytes.writeUInt16LE(2, 32);
  bytes.writeUInt32LE(frames * 2, 40);
  for (let i = 0; i < frames; i++)
    bytes.writeInt16LE(Math.round(8192 * Math.sin((2 * Math.PI * 1000 * i) / RATE)), 44 + i * 2);
  return bytes;
}

export interface ReadWav {
  readonly format: number;
  readonly channels: number;
  readonly rate: number;
  readonly bits: number;
  readonly timeReference: number | undefined;
  /** The bytes of the samples alone. */
  readonly data: Buffer;
  /** Largest absolute value of each frame over the channels, full scale 1. */
  readonly size: Float64Array;
}

/** Reads a RIFF file chunk by chunk. */
export function readWav(bytes: Buffer): ReadWav {
  if (bytes.toString('latin1', 0, 4) !== 'RIFF') throw new Error('no RIFF file');
  const chunks = new Map<string, Buffer>();
  for (let at = 12; at + 8 <= bytes.length;) {
    const length = bytes.readUInt32LE(at + 4);
    chunks.set(bytes.toString('latin1', at, at + 4), bytes.subarray(at + 8, at + 8 + length));
    at += 8 + length + (length % 2);
  }
  const fmt = chunks.get('fmt ') as Buffer;
  const data = chunks.get('data') as Buffer;
  const channels = fmt.readUInt16LE(2);
  const bits = fmt.readUInt16LE(14);
  const width = bits / 8;
  const value = (at: number) => (bits === 32 ? data.readFloatLE(at) : data.readIntLE(at, width) / 2 ** (bits - 1));
  const size = new Float64Array(data.length / (channels * width));
  for (let i = 0; i < size.length; i++) {
    for (let c = 0; c < channels; c++) size[i] = Math.max(size[i], Math.abs(value((i * channels + c) * width)));
  }
  const bext = chunks.get('bext');
  return {
    format: fmt.readUInt16LE(0),
    channels,
    rate: fmt.readUInt32LE(4),
    bits,
    timeReference: bext && Number(bext.readBigUInt64LE(338)),
    data,
    size,
  };
}

/** Last frame above −60 dB of the peak. */
export function lastSound({ size }: ReadWav): number {
  const peak = size.reduce((most, value) => Math.max(most, value), 0);
  return size.findLastIndex((value) => value > peak / 1000);
}

/** Files that are no sounds we take, each with a part of what must be said about it. */
export function badSounds(): [string, Buffer, RegExp][] {
  const spoil = (change: (bytes: Buffer) => Buffer | void) => {
    const bytes = testSound();
    return change(bytes) ?? bytes;
  };
  const floats = spoil((bytes) => {
    bytes.writeUInt16LE(3, 20);
    bytes.writeUInt16LE(8, 32);
    bytes.writeUInt16LE(32, 34);
    bytes.fill(0xff, 4000, 4400); // all ones: not a number
  });
  return [
    ['letter.wav', Buffer.from('Dear harbour master'), /it begins with "Dear"/],
    ['void.wav', spoil((bytes) => (bytes.writeUInt32LE(0, 40), bytes.subarray(0, 44))), /0 frames; at least 1/],
    ['nan.wav', floats, /NaN or infinite/],
    ['nine.wav', spoil((bytes) => void bytes.writeUInt16LE(9, 22)), /9 channels; 1 to 8/],
    ['slow.wav', spoil((bytes) => void bytes.writeUInt32LE(4000, 24)), /8000 to 192000 Hz/],
  ];
}

const HOUR = 3600; // seconds that the time reference counts from

export interface Measured {
  readonly left: Float64Array;
  readonly rate: number;
  /** The second of the source at which it begins. */
  readonly begins: number;
}

/** The left samples of a float file. */
export function samplesOf(bytes: Buffer): Measured {
  const { data, channels, bits, rate, timeReference } = readWav(bytes);
  if (bits !== 32) throw new Error('no float file');
  const left = Float64Array.from({ length: data.length / (4 * channels) }, (_, i) =>
    data.readFloatLE(4 * channels * i),
  );
  return { left, rate, begins: (timeReference ?? HOUR * rate) / rate - HOUR };
}

/** RMS between two times of the file. */
export function level({ left, rate }: Measured, from: number, to: number): number {
  const part = left.subarray(Math.round(from * rate), Math.round(to * rate));
  return Math.sqrt(part.reduce((sum, x) => sum + x * x, 0) / Math.max(1, part.length));
}

/** How often it crosses zero between two times. */
export function crossings({ left, rate }: Measured, from: number, to: number): number {
  const part = left.subarray(Math.round(from * rate), Math.round(to * rate));
  return part.filter((x, i) => i > 0 && x <= 0 !== part[i - 1] <= 0).length;
}

/** How much of a sound is in another one from a frame on: 1 when all of it is there at its level. */
export function shareOf(sound: Float64Array, whole: Float64Array, at: number): number {
  let [own, both] = [0, 0];
  sound.forEach((x, i) => {
    own += x * x;
    both += x * whole[at + i];
  });
  return both / own;
}
