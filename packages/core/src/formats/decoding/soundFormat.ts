import type { ByteSource } from '../wav/byteSource.ts';

export const SOUND_FORMATS = ['wav', 'aiff', 'flac', 'ogg vorbis', 'opus', 'mp3'] as const;
export type SoundFormat = (typeof SOUND_FORMATS)[number];

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
