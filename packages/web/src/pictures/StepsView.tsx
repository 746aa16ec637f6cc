import type { StepsPicture } from '@hexenkessel/core/stages';
import { numberIn, type SetValues } from './setValues.ts';
import { useDrag } from './useDrag.ts';

const WIDTH = 400;
const HEIGHT = 150;
const BOTTOM = 14;

interface Props {
  readonly picture: StepsPicture;
  readonly onSet?: SetValues | undefined;
}

/** The steps of a pattern, each dragged up and down. */
export function StepsView({ picture, onSet }: Props) {
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role={onSet ? 'group' : 'img'}
      aria-label={picture.title}
      width="100%"
      height="100%"
    >
      {picture.levels.map((_, n) => (
        <Step key={picture.params[n]} picture={picture} index={n} onSet={onSet} />
      ))}
    </svg>
  );
}

function Step({ picture, index, onSet }: Props & { readonly index: number }) {
  const { levels, params, swing, gate } = picture;
  const level = levels[index];
  const pitch = WIDTH / levels.length;
  const late = index % 2 === 1 ? swing * pitch : 0;
  const room = HEIGHT - BOTTOM - 4;
  const share = (value: number) => Math.round(100 * Math.max(0, Math.min(1, value))) / 100;
  const drag = useDrag(
    (_, y, gesture) => onSet?.({ [params[index]]: share(1 - (y * HEIGHT - 4) / room) }, gesture),
    (_, up, gesture) =>
      onSet?.((now) => ({ [params[index]]: share(numberIn(now, params[index], level) + up / 20) }), gesture),
  );
  const width = Math.max(2, (pitch - late - 1.5) * gate);
  return (
    <g
      {...(onSet ? drag : {})}
      role={onSet ? 'slider' : undefined}
      aria-label={`step ${index + 1}`}
      aria-valuenow={Math.round(100 * level)}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuetext={`${Math.round(100 * level)} %`}
    >
      <rect
        x={index * pitch}
        y="0"
        width={pitch}
        height={HEIGHT}
        fill={index % 8 < 4 ? 'transparent' : 'var(--chakra-colors-shade)'}
        opacity="0.5"
      />
      <rect
        x={index * pitch + late + 0.75}
        y={4 + room * (1 - level)}
        width={width}
        height={Math.max(1.5, room * level)}
        fill="var(--chakra-colors-ink)"
        opacity="0.82"
      />
      {index % 4 === 0 && (
        <text x={index * pitch + 2} y={HEIGHT - 3} style={{ fontSize: '9px' }} fill="var(--chakra-colors-faded)">
          {index + 1}
        </text>
      )}
    </g>
  );
}
