/** Sound files of every kind that is read, and FLAC written. Apart from the rest, for its decoders are large. */
export * from './decoding/decodeSound.ts';
export * from './decoding/soundFormat.ts';
export * from './flac/flacWriter.ts';
