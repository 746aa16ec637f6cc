import { Box, Flex, Text } from '@chakra-ui/react';
import { Minus, Plus } from 'lucide-react';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { IconAction } from '../parts/IconAction.tsx';

interface Props {
  readonly values: readonly number[];
  readonly most: number;
  readonly onChange: (values: readonly number[], gesture?: string) => boolean;
}

let gestures = 0;
const HEIGHT = 72;

/** A row of steps from −1 to 1, each dragged to its height. */
export function StepBars({ values, most, onChange }: Props) {
  const gesture = useRef('');
  const setStep = (index: number, value: number, group: string) =>
    onChange(
      values.map((old, n) => (n === index ? Math.max(-1, Math.min(1, Math.round(100 * value) / 100)) : old)),
      group,
    );
  const point = (event: PointerEvent<HTMLDivElement>) => {
    const { left, top, width, height } = event.currentTarget.getBoundingClientRect();
    const index = Math.floor(((event.clientX - left) / width) * values.length);
    if (index >= 0 && index < values.length) setStep(index, 1 - (2 * (event.clientY - top)) / height, gesture.current);
  };
  return (
    <Box borderWidth="1px" borderColor="rule" bg="paper" my="1">
      <Flex
        height={`${HEIGHT}px`}
        touchAction="none"
        cursor="ns-resize"
        position="relative"
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          gesture.current = `steps ${++gestures}`;
          point(event);
        }}
        onPointerMove={(event) => {
          if (event.currentTarget.hasPointerCapture(event.pointerId)) point(event);
        }}
      >
        <Box position="absolute" left="0" right="0" top={`${HEIGHT / 2}px`} height="1px" bg="rule" />
        {values.map((value, n) => (
          <Step key={n} index={n} value={value} onStep={(next) => setStep(n, next, `key step ${n}`)} />
        ))}
      </Flex>
      <Flex justify="space-between" align="center" px="2" borderTopWidth="1px" borderColor="rule">
        <Text fontSize="xs" color="faded">
          {values.length} steps
        </Text>
        <Flex>
          <IconAction
            label="Remove step"
            height="24px"
            disabled={values.length <= 1}
            onClick={() => onChange(values.slice(0, -1))}
          >
            <Minus size={13} />
          </IconAction>
          <IconAction
            label="Add step"
            height="24px"
            disabled={values.length >= most}
            onClick={() => onChange([...values, 0])}
          >
            <Plus size={13} />
          </IconAction>
        </Flex>
      </Flex>
    </Box>
  );
}

function Step({ index, value, onStep }: { index: number; value: number; onStep: (value: number) => void }) {
  const press = (event: KeyboardEvent) => {
    const by = { ArrowUp: 0.05, ArrowDown: -0.05, PageUp: 0.25, PageDown: -0.25 }[event.key];
    if (by === undefined) return;
    onStep(value + by);
    event.preventDefault();
    event.stopPropagation();
  };
  const middle = HEIGHT / 2;
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={`Step ${index + 1}`}
      aria-valuemin={-1}
      aria-valuemax={1}
      aria-valuenow={value}
      aria-orientation="vertical"
      flex="1"
      position="relative"
      borderRightWidth="1px"
      borderColor="rule"
      onKeyDown={press}
    >
      <Box
        position="absolute"
        left="15%"
        right="15%"
        bg="verdigris"
        style={{
          top: `${middle - Math.max(0, value) * (middle - 3)}px`,
          height: `${Math.max(2, Math.abs(value) * (middle - 3))}px`,
        }}
      />
    </Box>
  );
}
