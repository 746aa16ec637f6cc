import type { ByteSource } from '../common/byteSource.ts';

export const SOUND_FORMATS = ['wav', 'aiff', 'flac', 'ogg vorbis', 'opus', 'mp3'] as const;
export type SoundFormat = (typeof SOUND_FORMATS)[number];

/** What a file is that is no sound file which can be read, by its right name; undefined for one that is not known. */
export async function foreignFormatOf(source: ByteSource): Promise<string | undefined> {
  const head = await source.read(0, Math.min(64, source.size));
  const text = (from: number, length: number) => String.fromCharCode(...head.subarray(from, from + length));
  if (text(0, 4) === 'riff' && head[4] === 0x2e && head[5] === 0x91) return 'Wave64 (W64)';
  if (text(4, 4) === 'ftyp') return 'MPEG-4 (M4A, MP4)';
  if (text(0, 4) === 'OggS' && text(28, 5) === '\x7fFLAC') return 'FLAC in Ogg';
  if (text(0, 4) === 'OggS' && text(28, 5) === 'Speex') return 'Speex';
  if (text(0, 4) === 'caff') return 'Core Audio (CAF)';
  if (text(0, 4) === '.snd') return 'Sun audio (AU)';
  if (text(0, 4) === 'wvpk') return 'WavPack';
  if (text(0, 4) === 'MAC ') return 'Monkey’s Audio';
  if (head[0] === 0x30 && head[1] === 0x26 && head[2] === 0xb2 && head[3] === 0x75) return 'Windows Media (WMA)';
  // ADTS: twelve bits set and no layer.
  if (head[0] === 0xff && (head[1] & 0xf6) === 0xf0) return 'AAC';
  return undefined;
}

/** Which kind of sound file it is, by its first bytes; undefined for none that can be read. Names are not believed. */
export async function soundFormatOf(source: ByteSource): Promise<SoundFormat | undefined> {
  const head = await source.read(0, Math.min(64, source.size));
  const text = (from: number, length: number) => String.fromCharCode(...head.subarray(from, from + length));
  const opening = text(0, 4);
  if (opening === 'RIFF' || opening === 'RF64') return 'wav';
  if (opening === 'FORM' && ['AIFF', 'AIFC'].includes(text(8, 4))) return 'aiff';
  if (opening === 'fLaC') return 'flac';
  if (opening === 'OggS') {
    const stream = text(28, 8);
    if (stream.startsWith('OpusHead')) return 'opus';
    return stream.slice(1, 7) === 'vorbis' ? 'ogg vorbis' : undefined;
  }
  if (text(0, 3) === 'ID3') return 'mp3';
  // An MPEG frame: eleven bits set, layer III, a bit rate and a rate that are allowed.
  const isFrame =
    head.length >= 4 &&
    head[0] === 0xff &&
    (head[1] & 0xe0) === 0xe0 &&
    (head[1] & 0x06) === 0x02 &&
    (head[2] & 0xf0) !== 0xf0 &&
    (head[2] & 0x0c) !== 0x0c;
  return isFrame ? 'mp3' : undefined;
}
