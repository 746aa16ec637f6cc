/** What is refused before any work starts, with the limit named. */
export const LIMITS = {
  /** Stages of a chain, those inside others counted. */
  stages: 64,
  /** Stages inside each other; a stage of the chain itself is at depth 1. */
  depth: 4,
  modulators: 32,
  routes: 256,
  lanes: 64,
  /** Scripts of a chain; bytes of one, and of all together. */
  scripts: 16,
  scriptBytes: 64 * 1024,
  scriptsBytes: 256 * 1024,
  /** Bytes of memory of all stages that are written as text, at the highest rate. */
  scriptMemory: 64 * 1024 * 1024,
  /** Controls of a panel, and what one may drive. */
  controls: 32,
  driven: 16,
  /** Bytes of a chain file. */
  chainBytes: 1024 * 1024,
  /** Bytes of a sound file. */
  soundBytes: 4 * 1024 ** 3,
  /** Seconds of a sound. */
  soundSeconds: 6 * 3600,
  /** Frames × channels that a whole-clip stage may have to hold: 30 minutes of stereo at 48 kHz. */
  clipSamples: 30 * 60 * 48000 * 2,
  sampleRate: { min: 8000, max: 192000 },
  channels: { min: 1, max: 2 },
  /** Of a file, of which one or two are taken. */
  fileChannels: 8,
  /** Seconds of overhang on either side of a source. */
  overhangSeconds: 600,
  nameLength: 200,
  /** Of a file that tempo, notes or lanes are read from. */
  midiBytes: 8 * 1024 * 1024,
  midiEvents: 200_000,
  csvBytes: 64 * 1024 * 1024,
  /** Characters of a typed value, and of all that is written in a curve, a list or notes. */
  valueLength: 200,
  writtenLength: 1024 * 1024,
} as const;
