import { useEffect, useRef } from 'react';
import type { VoicesPicture } from '@hexenkessel/core/stages';

const WIDTH = 400;
const HEIGHT = 150;
const TURNS = 2;
const LINES = ['', '5 3', '2 3', '8 3 2 3'];

interface Props {
  readonly picture: VoicesPicture;
  /** Seconds from the source's first frame while it plays. */
  readonly position?: (() => number | undefined) | undefined;
}

/** Every voice's delay over two cycles of the movement; a line goes along it as it plays, and by the clock otherwise. */
export function VoicesView({ picture, position }: Props) {
  const { voices, rate, depth, drift, wave, title } = picture;
  const longest = Math.max(...voices.map(({ rest }) => rest)) + depth + drift;
  const shortest = Math.min(...voices.map(({ rest }) => rest));
  const down = (delay: number) => 8 + ((delay - shortest) / Math.max(1e-4, longest - shortest)) * (HEIGHT - 30);
  const marker = useRef<SVGGElement>(null);
  useEffect(() => {
    if (window.matchMedia('(prefers-reduced-motion: reduce)').matches) return undefined;
    let frame = 0;
    const draw = () => {
      const seconds = position?.() ?? performance.now() / 1000;
      const turn = (seconds * rate) % TURNS;
      marker.current?.setAttribute('transform', `translate(${((turn / TURNS) * WIDTH).toFixed(1)} 0)`);
      marker.current?.querySelectorAll('circle').forEach((dot, n) => {
        const voice = voices[n];
        if (voice) dot.setAttribute('cy', down(delayAt(picture, voice.phase, voice.rest, turn, n)).toFixed(1));
      });
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`${title}: ${voices.length} voices, ${wave}`}
      width="100%"
      height="100%"
    >
      {voices.map(({ phase, rest, pan }, n) => (
        <polyline
          key={n}
          fill="none"
          stroke={
            pan < -0.2
              ? 'var(--chakra-colors-copper)'
              : pan > 0.2
                ? 'var(--chakra-colors-verdigris)'
                : 'var(--chakra-colors-ink)'
          }
          strokeWidth="1.4"
          strokeDasharray={LINES[n % LINES.length]}
          points={Array.from({ length: 161 }, (_, i) => {
            const turn = (i / 160) * TURNS;
            return `${((turn / TURNS) * WIDTH).toFixed(1)},${down(delayAt(picture, phase, rest, turn, n)).toFixed(1)}`;
          }).join(' ')}
        />
      ))}
      <g ref={marker}>
        <line x1="0" x2="0" y1="2" y2={HEIGHT - 18} stroke="var(--chakra-colors-alarm)" strokeWidth="1" />
        {voices.map((_, n) => (
          <circle key={n} cx="0" cy="0" r="3" fill="var(--chakra-colors-alarm)" />
        ))}
      </g>
      <text x="2" y={HEIGHT - 4} style={{ fontSize: '9px' }} fill="var(--chakra-colors-faded)">
        {(1000 * shortest).toFixed(1)} ms at the top, {(1000 * longest).toFixed(1)} ms below · copper left, verdigris
        right · two cycles, {(TURNS / rate).toFixed(1)} s
      </text>
    </svg>
  );
}

/** Seconds of a voice's delay at a moment. Chance is drawn as one example of it. */
export function delayAt(
  { wave, depth }: VoicesPicture,
  phase: number,
  rest: number,
  turns: number,
  voice: number,
): number {
  const at = turns + phase;
  const part = at - Math.floor(at);
  if (wave === 'sine') return rest + depth * (0.5 + 0.5 * Math.cos(2 * Math.PI * part));
  if (wave === 'triangle') return rest + depth * Math.abs(1 - 2 * part);
  const chance = (n: number) => Math.abs(Math.sin(12.9898 * (n + 1) + 78.233 * (voice + 1))) % 1;
  const from = chance(Math.floor(at));
  const smooth = from + (chance(Math.floor(at) + 1) - from) * part * part * (3 - 2 * part);
  return rest + depth * (wave === 'steps' ? Math.floor(smooth * 4.999) / 4 : smooth);
}
