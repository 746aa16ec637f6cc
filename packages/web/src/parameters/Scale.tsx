import { Box } from '@chakra-ui/react';
import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';

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
    <Box position="relative" height="24px">
      <Box
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuemin={min}
        aria-valuemax={max}
        aria-valuenow={now}
        aria-valuetext={text}
        position="relative"
        height="24px"
        cursor="ew-resize"
        touchAction="none"
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
        backgroundImage="repeating-linear-gradient(to right, var(--chakra-colors-rule) 0 1px, transparent 1px 10%)"
        backgroundSize="100% 5px"
        backgroundPosition="0 12px"
        backgroundRepeat="no-repeat"
        borderRightWidth="1px"
        borderColor="rule"
      >
        <Box position="absolute" left="0" right="0" top="12px" height="1px" bg="rule" />
        {used && (
          <Box
            data-testid="used-range"
            position="absolute"
            top="7px"
            height="11px"
            borderXWidth="2px"
            borderColor="copper"
            bg="copper"
            bgClip="padding-box"
            style={{
              left: `${100 * Math.min(...used)}%`,
              width: `${100 * Math.abs(used[1] - used[0])}%`,
              backgroundColor: 'color-mix(in srgb, var(--chakra-colors-copper) 16%, transparent)',
            }}
          />
        )}
        <Box position="absolute" left="0" top="11px" height="3px" bg="verdigris" style={{ width: `${place * 100}%` }} />
        <Box
          position="absolute"
          top="17px"
          width="0"
          height="0"
          ml="-3px"
          borderLeft="3px solid transparent"
          borderRight="3px solid transparent"
          borderBottom="5px solid"
          borderBottomColor="faded"
          style={{ left: `${defaultPlace * 100}%` }}
        />
        <Box
          position="absolute"
          top="3px"
          width="3px"
          height="19px"
          ml="-1.5px"
          bg="ink"
          style={{ left: `${place * 100}%` }}
        />
      </Box>
      {children}
    </Box>
  );
}
