import { written } from '@hexenkessel/core/model';
import type { RepeatsPicture } from '@hexenkessel/core/stages';

const WIDTH = 400;
const HEIGHT = 150;
const MIDDLE = 74;
const REACH = 62;
/** As the sides are lettered beside the picture. */
const SHORT: Readonly<Record<string, string>> = { left: 'L', right: 'R', mid: 'M', side: 'S' };

/** A repeat's tint by its pitch: verdigris above, copper below, ink where it is the same. */
function tint(pitch: number): string {
  if (Math.abs(pitch) < 0.05) return 'var(--chakra-colors-ink)';
  const share = Math.min(100, 30 + 6 * Math.abs(pitch));
  return `color-mix(in srgb, var(--chakra-colors-${pitch > 0 ? 'verdigris' : 'copper'}) ${share}%, var(--chakra-colors-ink))`;
}

/** Repeats over the beats: as long as they are loud, upwards what is on the first side, downwards what is on the second. */
export function RepeatsView({ picture }: { readonly picture: RepeatsPicture }) {
  const { repeats, seconds, beat, ducking, recovery, sides, title } = picture;
  const across = (time: number) => 12 + (time / seconds) * (WIDTH - 24);
  const beats = Array.from({ length: Math.floor(seconds / beat + 0.001) + 1 }, (_, n) => n);
  const pitched = repeats.some(({ pitch }) => Math.abs(pitch) >= 0.05);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`${title}: ${repeats.length} repeats, ${sides[0]} upwards, ${sides[1]} downwards`}
      width="100%"
      height="100%"
    >
      {beats.map((n) => (
        <g key={n}>
          <line
            x1={across(n * beat)}
            x2={across(n * beat)}
            y1="4"
            y2={HEIGHT - 14}
            stroke="var(--chakra-colors-rule)"
            strokeWidth={n % 4 === 0 ? 1.2 : 0.6}
          />
          {(beats.length < 18 || n % 4 === 0) && (
            <text
              x={across(n * beat)}
              y={HEIGHT - 3}
              style={{ fontSize: '9px' }}
              textAnchor="middle"
              fill="var(--chakra-colors-faded)"
            >
              {n}
            </text>
          )}
        </g>
      ))}
      {ducking > 0 && (
        <polygon
          points={`${across(0)},6 ${across(0)},${HEIGHT - 16} ${across(Math.min(seconds, recovery))},${HEIGHT - 16}`}
          fill="var(--chakra-colors-copper)"
          opacity="0.14"
        />
      )}
      <line x1={across(0)} x2={across(seconds)} y1={MIDDLE} y2={MIDDLE} stroke="var(--chakra-colors-rule)" />
      <rect x={across(0) - 2} y={MIDDLE - REACH} width="4" height={2 * REACH} fill="var(--chakra-colors-faded)" />
      {repeats.map(({ at, level, pan, pitch }, n) => {
        const size = REACH * Math.min(1, Math.sqrt(level));
        const left = size * Math.min(1, 1 - pan);
        const right = size * Math.min(1, 1 + pan);
        return (
          <g key={n}>
            <rect x={across(at) - 1.5} y={MIDDLE - left} width="3" height={left + right} fill={tint(pitch)} />
            {pitched && n < 10 && (
              <text x={across(at) + 3} y={MIDDLE - left + 8} style={{ fontSize: '8px' }} fill={tint(pitch)}>
                {pitch > 0 ? '+' : ''}
                {written(Number(pitch.toFixed(1)))}
              </text>
            )}
          </g>
        );
      })}
      <text x="2" y="12" style={{ fontSize: '9px' }} fill="var(--chakra-colors-faded)">
        {SHORT[sides[0]] ?? sides[0]}
      </text>
      <text x="2" y={HEIGHT - 18} style={{ fontSize: '9px' }} fill="var(--chakra-colors-faded)">
        {SHORT[sides[1]] ?? sides[1]}
      </text>
    </svg>
  );
}
