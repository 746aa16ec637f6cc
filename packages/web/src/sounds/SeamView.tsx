import type { Clip } from '@hexenkessel/core/model';
import type { SoundLoop } from '@hexenkessel/core/formats';

const WIDTH = 320;
const HEIGHT = 70;
/** Frames on either side of the seam. */
const AROUND = 160;

/** Where a loop goes round: its end on the left, its beginning on the right, and what would have come next, thin. */
export function SeamView({ clip, loop }: { readonly clip: Clip; readonly loop: SoundLoop }) {
  const sum = (frame: number) =>
    clip.channels.reduce((all, samples) => all + (samples[frame] ?? 0), 0) / clip.channels.length;
  const end = Array.from({ length: 2 * AROUND }, (_, i) => sum(loop.end - AROUND + i));
  const start = Array.from({ length: AROUND }, (_, i) => sum(loop.start + i));
  const most = Math.max(1e-6, ...end.map(Math.abs), ...start.map(Math.abs));
  const x = (i: number) => (i / (2 * AROUND)) * WIDTH;
  const y = (value: number) => (HEIGHT / 2) * (1 - (0.92 * value) / most);
  const line = (values: readonly number[], from: number) =>
    values.map((value, i) => `${x(from + i).toFixed(1)},${y(value).toFixed(1)}`).join(' ');
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      role="img"
      aria-label={`Seam of the ${loop.kind} loop`}
      style={{ background: 'var(--chakra-colors-sheet)', border: '1px solid var(--chakra-colors-rule)' }}
    >
      <line
        x1={WIDTH / 2}
        x2={WIDTH / 2}
        y1="0"
        y2={HEIGHT}
        stroke="var(--chakra-colors-copper)"
        strokeDasharray="3 3"
      />
      <polyline points={line(end, 0)} fill="none" stroke="var(--chakra-colors-faded)" strokeOpacity="0.5" />
      <polyline
        points={line(end.slice(0, AROUND), 0)}
        fill="none"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="1.6"
      />
      <polyline points={line(start, AROUND)} fill="none" stroke="var(--chakra-colors-ink)" strokeWidth="1.6" />
    </svg>
  );
}
