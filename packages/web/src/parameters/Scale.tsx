import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';
import style from './Scale.module.css';

interface Props {
  readonly label: string;
  /** 0…1 */
  readonly place: number;
  readonly defaultPlace: number;
  readonly min: number;
  readonly max: number;
  readonly now: number;
  readonly text: string;
  /** A place was pointed at; `gesture` is the same for all of one drag. */
  readonly onPlace: (place: number, gesture: string) => void;
  /** A number of hundredths up or down. */
  readonly onStep: (steps: number) => void;
  readonly onDefault: () => void;
  /** The stretch of the scale that a control of the panel uses, 0…1. */
  readonly used?: readonly [number, number] | undefined;
  /** What else is shown on it, and may be moved by itself. */
  readonly children?: ReactNode;
}

let gestures = 0;

const STEPS: Readonly<Record<string, number>> = {
  ArrowRight: 1,
  ArrowUp: 1,
  ArrowLeft: -1,
  ArrowDown: -1,
  PageUp: 10,
  PageDown: -10,
};

/** A ruled scale to drag along or to step through with the keys; the tick below marks the default. */
export function Scale(props: Props) {
  const { label, place, defaultPlace, min, max, now, text, used, children, onPlace, onStep, onDefault } = props;
  const gesture = useRef('');
  const point = (event: PointerEvent<HTMLDivElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    onPlace((event.clientX - left) / width, gesture.current);
  };
  const press = (event: KeyboardEvent) => {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const steps = STEPS[event.key];
    if (steps !== undefined) onStep(steps);
    else if (event.key === 'Home') onPlace(0, `key ${label}`);
    else if (event.key === 'End') onPlace(1, `key ${label}`);
    else if (event.key === 'Delete' || event.key === 'Backspace') onDefault();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className={style['scale']}>
      <div
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuemin={min}
        aria-valuemax={max}
        aria-valuenow={now}
        aria-valuetext={text}
        className={style['ruled']}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          gesture.current = `drag ${++gestures}`;
          point(event);
        }}
        onPointerMove={(event) => {
          if (event.currentTarget.hasPointerCapture(event.pointerId)) point(event);
        }}
        onDoubleClick={onDefault}
        onKeyDown={press}
      >
        <div className={style['ground']} />
        {used && (
          <div
            data-testid="used-range"
            className={style['used']}
            style={{ left: `${100 * Math.min(...used)}%`, width: `${100 * Math.abs(used[1] - used[0])}%` }}
          />
        )}
        <div className={style['filled']} style={{ width: `${place * 100}%` }} />
        <div className={style['default']} style={{ left: `${defaultPlace * 100}%` }} />
        <div className={style['mark']} style={{ left: `${place * 100}%` }} />
      </div>
      {children}
    </div>
  );
}
