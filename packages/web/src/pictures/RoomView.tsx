import { useRef } from 'react';
import type { RoomPicture } from '@hexenkessel/core/stages';
import type { SetValues } from './CurvesView.tsx';
import { useDrag } from './useDrag.ts';

const WIDTH = 400;
const HEIGHT = 150;
const LEAST = 1.5;
const MOST = 60;
/** Metres that the picture is high, in steps, so that a corner moves under the hand and not the picture. */
const VIEWS = [4, 8, 16, 32, 64, 128];

interface Props {
  readonly picture: RoomPicture;
  readonly onSet?: SetValues | undefined;
}

/** The room from above, its front on the right: corners, source and listener are dragged or moved with the keys. */
export function RoomView({ picture, onSet }: Props) {
  const { length, width, height, source, listener, decay, title } = picture;
  const wanted = Math.max(width * 1.15, (length * 1.15 * HEIGHT) / WIDTH);
  const view = useRef(VIEWS.find((metres) => metres >= wanted) ?? 128);
  // It changes when the room no longer fits, or fills less than a third of it.
  if (wanted > view.current || wanted < view.current / 3.2)
    view.current = VIEWS.find((metres) => metres >= wanted) ?? 128;
  const scale = HEIGHT / view.current;
  const left = WIDTH / 2 - (length * scale) / 2;
  const top = HEIGHT / 2 - (width * scale) / 2;
  const placed = ([along, across]: readonly [number, number]) =>
    [left + along * length * scale, top + across * width * scale] as const;
  const [sourceX, sourceY] = placed(source);
  const [listenerX, listenerY] = placed(listener);
  const bounded = (value: number) => Number(Math.max(LEAST, Math.min(MOST, value)).toPrecision(3));
  const share = (value: number) => Math.round(100 * Math.max(0.02, Math.min(0.98, value))) / 100;
  const size = (x: number, y: number, gesture: string) =>
    onSet?.(
      {
        length: bounded((2 * Math.abs(x * WIDTH - WIDTH / 2)) / scale),
        width: bounded((2 * Math.abs(y * HEIGHT - HEIGHT / 2)) / scale),
      },
      gesture,
    );
  const place = (who: 'source' | 'listener') => (x: number, y: number, gesture: string) =>
    onSet?.(
      {
        [`${who}Along`]: share((x * WIDTH - left) / (length * scale)),
        [`${who}Across`]: share((y * HEIGHT - top) / (width * scale)),
      },
      gesture,
    );
  const step =
    (who: 'source' | 'listener', at: readonly [number, number]) => (right: number, up: number, gesture: string) =>
      onSet?.({ [`${who}Along`]: share(at[0] + right / 100), [`${who}Across`]: share(at[1] - up / 100) }, gesture);
  const grow = (right: number, up: number, gesture: string) =>
    onSet?.({ length: bounded(length + right / 10), width: bounded(width + up / 10) }, gesture);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role={onSet ? 'group' : 'img'}
      aria-label={title}
      width="100%"
      height="100%"
    >
      <rect
        x={left}
        y={top}
        width={length * scale}
        height={width * scale}
        fill="var(--chakra-colors-shade)"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="2"
      />
      <line
        x1={sourceX}
        y1={sourceY}
        x2={listenerX}
        y2={listenerY}
        stroke="var(--chakra-colors-copper)"
        strokeDasharray="4 3"
      />
      {/* The first reflection from each wall. */}
      {reflections(source, listener, length, width).map(([along, across], n) => {
        const [x, y] = placed([along, across]);
        return (
          <polyline
            key={n}
            points={`${sourceX},${sourceY} ${x},${y} ${listenerX},${listenerY}`}
            fill="none"
            stroke="var(--chakra-colors-copper)"
            opacity="0.35"
            strokeWidth="0.8"
          />
        );
      })}
      <text x="4" y="12" style={{ fontSize: '10px' }} fill="var(--chakra-colors-faded)">
        {length} × {width} × {height} m
      </text>
      <text x="4" y="24" style={{ fontSize: '10px' }} fill="var(--chakra-colors-faded)">
        RT60 {decay < 1 ? `${Math.round(decay * 1000)} ms` : `${decay.toFixed(2)} s`}
      </text>
      {onSet &&
        [0, 1].flatMap((right) =>
          [0, 1].map((down) => (
            <Corner
              key={`${right}${down}`}
              x={left + right * length * scale}
              y={top + down * width * scale}
              label={`${right ? 'front' : 'back'} ${down ? 'right' : 'left'} corner`}
              text={`${length} by ${width} metres`}
              now={length}
              onPoint={size}
              onStep={grow}
            />
          )),
        )}
      <Marker
        x={sourceX}
        y={sourceY}
        label="source"
        letter="S"
        at={source}
        onPoint={onSet && place('source')}
        onStep={step('source', source)}
      />
      <Marker
        x={listenerX}
        y={listenerY}
        label="listener"
        letter="L"
        at={listener}
        onPoint={onSet && place('listener')}
        onStep={step('listener', listener)}
      />
    </svg>
  );
}

type Point = (x: number, y: number, gesture: string) => void;

function Corner(props: {
  readonly x: number;
  readonly y: number;
  readonly label: string;
  readonly text: string;
  readonly now: number;
  readonly onPoint: Point;
  readonly onStep: Point;
}) {
  const { x, y, label, text, now, onPoint, onStep } = props;
  const drag = useDrag(onPoint, onStep);
  return (
    <g
      {...drag}
      role="slider"
      aria-label={label}
      aria-valuenow={now}
      aria-valuemin={LEAST}
      aria-valuemax={MOST}
      aria-valuetext={text}
    >
      <rect x={x - 12} y={y - 12} width="24" height="24" fill="transparent" />
      <rect
        x={x - 4}
        y={y - 4}
        width="8"
        height="8"
        fill="var(--chakra-colors-sheet)"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="1.5"
      />
    </g>
  );
}

function Marker(props: {
  readonly x: number;
  readonly y: number;
  readonly label: string;
  readonly letter: string;
  readonly at: readonly [number, number];
  readonly onPoint: Point | undefined;
  readonly onStep: Point;
}) {
  const { x, y, label, letter, at, onPoint, onStep } = props;
  const drag = useDrag(onPoint ?? (() => undefined), onStep);
  const text = `${Math.round(100 * at[0])} % along, ${Math.round(100 * at[1])} % across`;
  return (
    <g
      {...(onPoint ? drag : {})}
      role={onPoint ? 'slider' : undefined}
      aria-label={label}
      aria-valuenow={Math.round(100 * at[0])}
      aria-valuemin={2}
      aria-valuemax={98}
      aria-valuetext={text}
    >
      <circle cx={x} cy={y} r="12" fill="transparent" />
      <circle
        cx={x}
        cy={y}
        r="8"
        fill={letter === 'S' ? 'var(--chakra-colors-copper)' : 'var(--chakra-colors-verdigris)'}
      />
      <text
        x={x}
        y={y + 3.5}
        style={{ fontSize: '10px' }}
        fontWeight="700"
        textAnchor="middle"
        fill="var(--chakra-colors-sheet)"
      >
        {letter}
      </text>
    </g>
  );
}

/** Where the sound meets each wall once on its way: on the line to the source's mirror image. As shares. */
export function reflections(
  source: readonly [number, number],
  listener: readonly [number, number],
  length: number,
  width: number,
): [number, number][] {
  const [sx, sy] = [source[0] * length, source[1] * width];
  const [lx, ly] = [listener[0] * length, listener[1] * width];
  const along = (wall: number) => {
    const share = (wall - sx) / (2 * wall - sx - lx);
    return [wall / length, (sy + share * (ly - sy)) / width] as [number, number];
  };
  const across = (wall: number) => {
    const share = (wall - sy) / (2 * wall - sy - ly);
    return [(sx + share * (lx - sx)) / length, wall / width] as [number, number];
  };
  return [along(0), along(length), across(0), across(width)];
}
