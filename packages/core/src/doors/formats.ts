/** Files, in and out. */
export { bytesInMemory, bytesOfBlob, bytesOfFile, type ByteSource } from '../formats/common/byteSource.ts';
export { parseChannels } from '../formats/common/pickedChannels.ts';
export { ditheredSpans, DitherScan } from '../formats/common/quantise.ts';
export {
  checkMarks,
  hasMarks,
  NO_MARKS,
  scaledMarks,
  type SoundLoop,
  type SoundMarks,
} from '../formats/common/soundMarks.ts';
export { ClipReader, piecesOf } from '../formats/decoding/clipReader.ts';
export { ditherText } from '../formats/ditherText.ts';
export { fileNameFor } from '../formats/fileNames.ts';
export { lanesFromCsv, lanesToCsv } from '../formats/laneCsv.ts';
export { readTempoMap } from '../formats/midi.ts';
export { type MidiLane, readMidiLanes } from '../formats/midiLanes.ts';
export { readMidiNotes } from '../formats/midiNotes.ts';
export { placeText, renderTimeReference, showOffset, showTimeOfDay, timeReferenceOf } from '../formats/placement.ts';
export { leftOutMarks, leftOutText, renderedMarks, type LeftOutMarks } from '../formats/renderedMarks.ts';
export { encodeRender, renderedWavOptions, type RenderLabel, StreamedWav } from '../formats/renderedWav.ts';
export { refuseLongClip, type SoundReader, WavReader } from '../formats/wav/reader.ts';
export { encodeWav, WAV_DEPTHS, type WavDepth, WavEncoder, type WavOptions } from '../formats/wav/writer.ts';
