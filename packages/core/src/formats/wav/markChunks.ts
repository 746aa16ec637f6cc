/** The chunks of a WAV file that hold loops, root note and markers: `smpl`, `cue ` and `LIST adtl` (RIFF MCI, 1994). */
import { NO_MARKS, type SoundLoop, type SoundMarker, type SoundMarks } from '../common/soundMarks.ts';
import { ascii, chunk, join, words } from './chunks.ts';

/** Name that a cue point gets so that other programs show what a loop is for. */
const LOOP_LABELS: Record<SoundLoop['kind'], string> = { sustain: 'sustain loop', release: 'release loop' };
const HALF_KEY = 2 ** 32 / 100; // a cent in the chunk's fraction of a semitone

/** The chunks for a sound's marks; none when there are none. */
export function markChunks(marks: SoundMarks, sampleRate: number): Uint8Array[] {
  const { loops, markers, rootKey, fineTune } = marks;
  const chunks: Uint8Array[] = [];
  // The sustain loop comes first, as samplers take the first one for it.
  const ordered = [...loops].sort((a, b) => (a.kind === b.kind ? 0 : a.kind === 'sustain' ? -1 : 1));
  if (ordered.length > 0 || rootKey !== null || fineTune !== 0)
    chunks.push(sampler(ordered, rootKey, fineTune, sampleRate));
  const points = [
    ...ordered.map(({ kind, start, end }) => ({ at: start, label: LOOP_LABELS[kind], length: end - start })),
    ...markers.map(({ at, label }) => ({ at, label, length: 0 })),
  ];
  if (points.length > 0) chunks.push(cues(points), labels(points));
  return chunks;
}

function sampler(
  loops: readonly SoundLoop[],
  rootKey: number | null,
  fineTune: number,
  sampleRate: number,
): Uint8Array {
  // The chunk says how much higher than its key a sound is, from 0 up to a semitone.
  const sharp = fineTune >= 0;
  const key = (rootKey ?? 60) - (sharp ? 0 : 1);
  const cents = sharp ? fineTune : 100 + fineTune;
  return chunk(
    'smpl',
    words([
      [4, 0],
      [4, 0],
      [4, Math.round(1e9 / sampleRate)],
      [4, Math.max(0, key)],
      [4, Math.min(2 ** 32 - 1, Math.round(cents * HALF_KEY))],
      [4, 0],
      [4, 0],
      [4, loops.length],
      [4, 0],
      ...loops.flatMap(({ start, end, times }, n): [4, number][] => [
        [4, n + 1],
        [4, 0],
        [4, start],
        [4, end - 1], // the last frame that is played
        [4, 0],
        [4, times],
      ]),
    ]),
  );
}

interface Point {
  readonly at: number;
  readonly label: string;
  readonly length: number;
}

function cues(points: readonly Point[]): Uint8Array {
  const entries = points.map(({ at }, n) =>
    join([
      words([
        [4, n + 1],
        [4, at],
      ]),
      ascii('data', 4),
      words([
        [4, 0],
        [4, 0],
        [4, at],
      ]),
    ]),
  );
  return chunk('cue ', join([words([[4, points.length]]), ...entries]));
}

function labels(points: readonly Point[]): Uint8Array {
  const entries = points.flatMap(({ label, length }, n) => [
    chunk('labl', join([words([[4, n + 1]]), new TextEncoder().encode(`${label}\0`)])),
    ...(length > 0
      ? [
          chunk(
            'ltxt',
            join([
              words([
                [4, n + 1],
                [4, length],
              ]),
              ascii('rgn ', 4),
              new Uint8Array(8),
            ]),
          ),
        ]
      : []),
  ]);
  return chunk('LIST', join([ascii('adtl', 4), ...entries]));
}

/** Gathers what the mark chunks of a file say. Chunks that are too short for what they claim are left out. */
export class MarkReader {
  private rootKey: number | null = null;
  private fineTune = 0;
  private loops: { readonly id: number; readonly start: number; readonly end: number; readonly times: number }[] = [];
  private readonly points = new Map<number, number>();
  private readonly labels = new Map<number, string>();

  read(name: string, body: Uint8Array): void {
    const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
    if (name === 'smpl' && body.length >= 36) this.readSampler(view);
    else if (name === 'cue ' && body.length >= 4) this.readCues(view);
    else if (name === 'LIST' && text(body, 0, 4) === 'adtl') this.readLabels(body);
  }

  /** What there is inside `frames` frames. */
  marks(frames: number): SoundMarks {
    if (this.loops.length === 0 && this.points.size === 0 && this.rootKey === null) return NO_MARKS;
    const fitting = this.loops.filter(({ start, end }) => start < end && end <= frames);
    const named = (kind: SoundLoop['kind']) => fitting.find(({ id }) => this.labels.get(id) === LOOP_LABELS[kind]);
    const sustain = named('sustain') ?? fitting.find((loop) => loop !== named('release'));
    const release = named('release') ?? fitting.find((loop) => loop !== sustain);
    const loops = [
      ...(sustain ? [{ kind: 'sustain' as const, ...withoutId(sustain) }] : []),
      ...(release ? [{ kind: 'release' as const, ...withoutId(release) }] : []),
    ];
    const taken = new Set(this.loops.map(({ id }) => id));
    const markers = [...this.points]
      .filter(
        ([id, at]) =>
          at <= frames && !(taken.has(id) && Object.values(LOOP_LABELS).includes(this.labels.get(id) ?? '')),
      )
      .map(([id, at]): SoundMarker => ({ at, label: this.labels.get(id) ?? '' }))
      .slice(0, 1000);
    return { rootKey: this.rootKey, fineTune: this.fineTune, loops, markers };
  }

  private readSampler(view: DataView): void {
    const cents = view.getUint32(16, true) / HALF_KEY;
    const key = view.getUint32(12, true);
    const flat = cents > 50;
    if (key <= 127) this.rootKey = Math.min(127, key + (flat ? 1 : 0));
    this.fineTune = Math.round(100 * (flat ? cents - 100 : cents)) / 100;
    const count = Math.min(view.getUint32(28, true), Math.floor((view.byteLength - 36) / 24));
    for (let n = 0; n < count; n++) {
      const at = 36 + 24 * n;
      this.loops.push({
        id: view.getUint32(at, true),
        start: view.getUint32(at + 8, true),
        end: view.getUint32(at + 12, true) + 1,
        times: Math.min(10_000, view.getUint32(at + 20, true)),
      });
    }
  }

  private readCues(view: DataView): void {
    const count = Math.min(view.getUint32(0, true), Math.floor((view.byteLength - 4) / 24));
    for (let n = 0; n < count; n++)
      this.points.set(view.getUint32(4 + 24 * n, true), view.getUint32(24 + 24 * n, true));
  }

  private readLabels(body: Uint8Array): void {
    const view = new DataView(body.buffer, body.byteOffset, body.byteLength);
    for (let at = 4; at + 8 <= body.length;) {
      const size = view.getUint32(at + 4, true);
      if (text(body, at, 4) === 'labl' && size >= 4 && at + 8 + size <= body.length) {
        const label = new TextDecoder().decode(body.subarray(at + 12, at + 8 + size)).replace(/\0.*$/s, '');
        this.labels.set(view.getUint32(at + 8, true), label.slice(0, 80));
      }
      at += 8 + size + (size % 2);
    }
  }
}

const withoutId = ({ start, end, times }: { start: number; end: number; times: number }) => ({ start, end, times });

function text(bytes: Uint8Array, offset: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(offset, offset + length));
}
