import { Box, Text } from '@chakra-ui/react';
import { printKey, showSeconds } from '@hexenkessel/core/model';
import type { ClipPicture, CutsPicture, PitchPicture } from '@hexenkessel/core/stages';
import { useDrag } from './useDrag.ts';

const WIDTH = 400;
const HEIGHT = 150;
const LEFT = 30;
const BOTTOM = 14;
const TOP = 8;

interface Props {
  readonly picture: ClipPicture;
  /** New cuts, in seconds from the source's first frame. */
  readonly onCuts: (cuts: readonly number[], gesture?: string) => void;
}

/** What a stage finds in the clip at hand. */
export function ClipPictureView({ picture, onCuts }: Props) {
  const title =
    picture.type === 'pitch'
      ? 'Pitch: detected (copper), corrected (ink)'
      : `${count(picture.cuts.length + 1)}${picture.byHand ? ': double-click cuts, drag or arrow keys move, Delete joins' : ''}`;
  return (
    <Box as="figure" width="100%" borderWidth="1px" borderColor="rule" bg="paper" data-picture={picture.type}>
      {picture.type === 'pitch' ? (
        <PitchView picture={picture} title={title} />
      ) : (
        <CutsView picture={picture} title={title} onCuts={onCuts} />
      )}
      <Text as="figcaption" fontSize="xs" color="faded" px="2" pb="1" fontStyle="italic">
        {title}
      </Text>
    </Box>
  );
}

function Wave({
  picture,
  left,
  height,
}: {
  readonly picture: ClipPicture;
  readonly left: number;
  readonly height: number;
}) {
  const columns = picture.waveform.length / 2;
  const bar = (WIDTH - left) / columns;
  const y = (value: number) => (height / 2) * (1 - Math.max(-1, Math.min(1, value)));
  const path = Array.from({ length: columns }, (_, n) => {
    const [least, most] = [picture.waveform[2 * n], picture.waveform[2 * n + 1]];
    return `M${(left + (n + 0.5) * bar).toFixed(1)} ${y(most).toFixed(1)}V${(y(least) + 0.5).toFixed(1)}`;
  }).join('');
  return (
    <path
      d={path}
      stroke="var(--chakra-colors-ink)"
      strokeOpacity={picture.type === 'pitch' ? 0.14 : 0.55}
      strokeWidth={bar}
      pointerEvents="none"
    />
  );
}

function PitchView({ picture, title }: { readonly picture: PitchPicture; readonly title: string }) {
  const { before, after, start, end, step } = picture;
  const sung = [...before, ...after].filter((key) => !Number.isNaN(key));
  const low = sung.length > 0 ? Math.floor(Math.min(...sung)) - 1 : 56;
  const high = sung.length > 0 ? Math.ceil(Math.max(...sung)) + 1 : 64;
  const x = (n: number) => LEFT + ((n * step) / (end - start)) * (WIDTH - LEFT);
  const y = (key: number) => TOP + ((high - key) / (high - low)) * (HEIGHT - BOTTOM - TOP);
  const every = high - low > 30 ? 12 : high - low > 14 ? 3 : 1;
  const notes = Array.from({ length: high - low + 1 }, (_, n) => low + n).filter((key) => key % every === 0);
  const line = (keys: readonly number[]) =>
    keys
      .map((key, n) =>
        Number.isNaN(key)
          ? ''
          : `${Number.isNaN(keys[n - 1] ?? NaN) ? 'M' : 'L'}${x(n).toFixed(1)} ${y(key).toFixed(1)}`,
      )
      .join('');
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label={title}>
      <Wave picture={picture} left={LEFT} height={HEIGHT - BOTTOM} />
      {notes.map((key) => (
        <g key={key}>
          <line x1={LEFT} x2={WIDTH} y1={y(key)} y2={y(key)} stroke="var(--chakra-colors-rule)" strokeWidth="0.6" />
          <text
            x={LEFT - 4}
            y={y(key) + 3}
            style={{ fontSize: '9px' }}
            textAnchor="end"
            fill="var(--chakra-colors-faded)"
          >
            {printKey(key)}
          </text>
        </g>
      ))}
      <Seconds start={start} end={end} left={LEFT} />
      <path d={line(before)} fill="none" stroke="var(--chakra-colors-copper)" strokeWidth="1.4" />
      <path d={line(after)} fill="none" stroke="var(--chakra-colors-ink)" strokeWidth="1.8" />
    </svg>
  );
}

function Seconds({ start, end, left }: { readonly start: number; readonly end: number; readonly left: number }) {
  return [0, 0.25, 0.5, 0.75].map((share) => (
    <text
      key={share}
      x={left + share * (WIDTH - left)}
      y={HEIGHT - 3}
      style={{ fontSize: '9px' }}
      fill="var(--chakra-colors-faded)"
    >
      {showSeconds(start + share * (end - start))}
    </text>
  ));
}

function CutsView({
  picture,
  title,
  onCuts,
}: {
  readonly picture: CutsPicture;
  readonly title: string;
  readonly onCuts: Props['onCuts'];
}) {
  const { cuts, start, end, origin, byHand } = picture;
  const x = (seconds: number) => ((seconds - start) / (end - start)) * WIDTH;
  const secondsAt = (share: number) => start + share * (end - start);
  const set = (next: readonly number[], gesture?: string) =>
    onCuts(
      next.map((seconds) => Math.max(0, Number((seconds - origin).toFixed(4)))).toSorted((a, b) => a - b),
      gesture,
    );
  const [top, floor] = [0, HEIGHT - BOTTOM];
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      role={byHand ? 'group' : 'img'}
      aria-label={title}
      onDoubleClick={(event) => {
        if (!byHand) return;
        const { left, width } = event.currentTarget.getBoundingClientRect();
        set([...cuts, secondsAt((event.clientX - left) / width)]);
      }}
    >
      <Wave picture={picture} left={0} height={HEIGHT - BOTTOM} />
      <Seconds start={start} end={end} left={0} />
      {cuts.map((cut, n) =>
        byHand ? (
          <Cut
            key={n}
            x={x(cut)}
            label={`Cut ${n + 1}`}
            text={showSeconds(cut)}
            seconds={cut}
            onMove={(share, gesture) => set(cuts.with(n, secondsAt(share)), gesture)}
            onStep={(steps, gesture) => set(cuts.with(n, cut + steps * 0.005), gesture)}
            onRemove={() => set(cuts.toSpliced(n, 1))}
          />
        ) : (
          <line
            key={n}
            x1={x(cut)}
            x2={x(cut)}
            y1={top}
            y2={floor}
            stroke="var(--chakra-colors-copper)"
            strokeWidth="1.2"
          />
        ),
      )}
    </svg>
  );
}

interface CutProps {
  readonly x: number;
  readonly label: string;
  readonly text: string;
  readonly seconds: number;
  readonly onMove: (share: number, gesture: string) => void;
  readonly onStep: (steps: number, gesture: string) => void;
  readonly onRemove: () => void;
}

function Cut({ x, label, text, seconds, onMove, onStep, onRemove }: CutProps) {
  const drag = useDrag(
    (share, _, gesture) => onMove(share, gesture),
    (right, up, gesture) => onStep(right + up, gesture),
  );
  return (
    <g
      {...drag}
      role="slider"
      aria-label={label}
      aria-valuenow={seconds}
      aria-valuetext={text}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onRemove();
      }}
      onKeyDown={(event) => {
        if (event.key === 'Delete' || event.key === 'Backspace') {
          event.stopPropagation();
          onRemove();
        } else drag.onKeyDown(event);
      }}
    >
      <rect x={x - 6} y="0" width="12" height={HEIGHT - BOTTOM} fill="transparent" />
      <line x1={x} x2={x} y1="0" y2={HEIGHT - BOTTOM} stroke="var(--chakra-colors-copper)" strokeWidth="1.6" />
      <path d={`M${x - 5} 0h10l-5 7z`} fill="var(--chakra-colors-copper)" />
    </g>
  );
}

const count = (slices: number) => `${slices} ${slices === 1 ? 'slice' : 'slices'}`;
