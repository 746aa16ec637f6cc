import { numberIn, type SetValues } from './setValues.ts';
import { useDrag } from './useDrag.ts';

const LEAST = 1.5;

/** One way through the room: how far it is, and where on it source and listener stand. */
export interface RoomAxis {
  readonly size: 'length' | 'width' | 'height';
  readonly place: 'Along' | 'Across' | 'Height';
  readonly metres: number;
  /** Metres that it can have at most. */
  readonly most: number;
  /** Shares. */
  readonly source: number;
  readonly listener: number;
}

interface Props {
  readonly title: string;
  readonly text: string;
  /** Units of the picture, and of a metre in it. */
  readonly wide: number;
  readonly high: number;
  readonly scale: number;
  readonly horizontal: RoomAxis;
  readonly vertical: RoomAxis;
  /** True where the vertical axis counts from below. */
  readonly upwards?: boolean;
  readonly onSet?: SetValues | undefined;
}

type Who = 'source' | 'listener';

/** The room seen along one of its axes: its corners, source and listener are dragged or moved with the keys. */
export function RoomProjection({
  title,
  text,
  wide,
  high,
  scale,
  horizontal,
  vertical,
  upwards = false,
  onSet,
}: Props) {
  const [w, h] = [horizontal.metres * scale, vertical.metres * scale];
  const [left, top] = [wide / 2 - w / 2, high / 2 - h / 2];
  const turned = (share: number) => (upwards ? 1 - share : share);
  const at = (share: readonly [number, number]) => [left + share[0] * w, top + turned(share[1]) * h] as const;
  const standing = (who: Who) => [horizontal[who], vertical[who]] as const;
  const metres = ({ most }: RoomAxis, value: number) => Number(Math.max(LEAST, Math.min(most, value)).toPrecision(3));
  const share = (value: number) => Math.round(100 * Math.max(0.02, Math.min(0.98, value))) / 100;
  const size = (x: number, y: number, gesture: string) =>
    onSet?.(
      {
        [horizontal.size]: metres(horizontal, (2 * Math.abs(x * wide - wide / 2)) / scale),
        [vertical.size]: metres(vertical, (2 * Math.abs(y * high - high / 2)) / scale),
      },
      gesture,
    );
  const grow = (right: number, up: number, gesture: string) =>
    onSet?.(
      (now) => ({
        [horizontal.size]: metres(horizontal, numberIn(now, horizontal.size, horizontal.metres) + right / 10),
        [vertical.size]: metres(vertical, numberIn(now, vertical.size, vertical.metres) + up / 10),
      }),
      gesture,
    );
  const place = (who: Who) => (x: number, y: number, gesture: string) =>
    onSet?.(
      {
        [`${who}${horizontal.place}`]: share((x * wide - left) / w),
        [`${who}${vertical.place}`]: share(turned((y * high - top) / h)),
      },
      gesture,
    );
  const step = (who: Who) => (right: number, up: number, gesture: string) => {
    const [along, across] = [`${who}${horizontal.place}`, `${who}${vertical.place}`];
    onSet?.(
      (now) => ({
        [along]: share(numberIn(now, along, horizontal[who]) + right / 100),
        [across]: share(numberIn(now, across, vertical[who]) + (upwards ? up : -up) / 100),
      }),
      gesture,
    );
  };
  const [sourceX, sourceY] = at(standing('source'));
  const [listenerX, listenerY] = at(standing('listener'));
  const words = { horizontal: ['back', 'front'], vertical: upwards ? ['lower', 'upper'] : ['left', 'right'] };
  return (
    <svg
      viewBox={`0 0 ${wide} ${high}`}
      role={onSet ? 'group' : 'img'}
      aria-label={title}
      width={`${wide / 4}%`}
      height="100%"
    >
      <rect
        x={left}
        y={top}
        width={w}
        height={h}
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
      {reflections(standing('source'), standing('listener'), horizontal.metres, vertical.metres).map((where, n) => (
        <polyline
          key={n}
          points={`${sourceX},${sourceY} ${at(where).join()} ${listenerX},${listenerY}`}
          fill="none"
          stroke="var(--chakra-colors-copper)"
          opacity="0.35"
          strokeWidth="0.8"
        />
      ))}
      <text x="4" y="9" style={{ fontSize: '9px' }} fill="var(--chakra-colors-faded)">
        {text}
      </text>
      {onSet &&
        [0, 1].flatMap((right) =>
          [0, 1].map((second) => (
            <Corner
              key={`${right}${second}`}
              x={left + right * w}
              y={top + turned(second) * h}
              label={`${words.horizontal[right]} ${words.vertical[second]} corner${upwards ? ', from the side' : ''}`}
              text={`${horizontal.size} ${horizontal.metres} m, ${vertical.size} ${vertical.metres} m`}
              now={upwards ? vertical.metres : horizontal.metres}
              most={upwards ? vertical.most : horizontal.most}
              onPoint={size}
              onStep={grow}
            />
          )),
        )}
      {(['source', 'listener'] as const).map((who) => (
        <Marker
          key={who}
          x={at(standing(who))[0]}
          y={at(standing(who))[1]}
          label={upwards ? `${who}, from the side` : who}
          letter={who === 'source' ? 'S' : 'L'}
          now={upwards ? vertical[who] : horizontal[who]}
          text={`${placeText(horizontal, who)}, ${placeText(vertical, who)}`}
          onPoint={onSet && place(who)}
          onStep={step(who)}
        />
      ))}
    </svg>
  );
}

const WAYS = { Along: 'front–back', Across: 'left–right', Height: 'height' };
const placeText = (axis: RoomAxis, who: Who) => `${WAYS[axis.place]} ${Math.round(100 * axis[who])} %`;

type Point = (x: number, y: number, gesture: string) => void;

interface CornerProps {
  readonly x: number;
  readonly y: number;
  readonly label: string;
  readonly text: string;
  readonly now: number;
  readonly most: number;
  readonly onPoint: Point;
  readonly onStep: Point;
}

function Corner({ x, y, label, text, now, most, onPoint, onStep }: CornerProps) {
  const drag = useDrag(onPoint, onStep);
  return (
    <g
      {...drag}
      role="slider"
      aria-label={label}
      aria-valuenow={now}
      aria-valuemin={LEAST}
      aria-valuemax={most}
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

interface MarkerProps extends Omit<CornerProps, 'onPoint' | 'most'> {
  readonly letter: 'S' | 'L';
  readonly onPoint: Point | undefined;
}

function Marker({ x, y, label, letter, now, text, onPoint, onStep }: MarkerProps) {
  const drag = useDrag(onPoint ?? (() => undefined), onStep);
  return (
    <g
      {...(onPoint ? drag : {})}
      role={onPoint ? 'slider' : undefined}
      aria-label={label}
      aria-valuenow={Math.round(100 * now)}
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
