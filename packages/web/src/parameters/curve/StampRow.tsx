import { Box, Button, Text } from '@chakra-ui/react';
import { useState, type ReactNode } from 'react';
import { InputError, SHAPES, parseNumber, type CurveParam, type Shape } from '@hexenkessel/core';
import { Choice } from '../../parts/Choice.tsx';
import { TypedValue } from '../TypedValue.tsx';

/** Which shape is stamped, from where to where. */
export function StampRow({
  param,
  stretch,
  stretchText,
  unit,
  onStamp,
}: {
  readonly param: CurveParam;
  readonly stretch: readonly [number, number];
  readonly stretchText: string;
  /** What the places count, between the shape and its button. */
  readonly unit: ReactNode;
  readonly onStamp: (shape: Shape, from: number, to: number, cycles: number, seed: number) => void;
}) {
  const [shape, setShape] = useState<Shape>('line');
  const [from, setFrom] = useState(0);
  const [to, setTo] = useState(param.min / 2);
  const [cycles, setCycles] = useState(1);
  const [seed, setSeed] = useState(1);
  const within = (text: string) => {
    const value = parseNumber(text);
    if (value < param.min || value > param.max)
      throw new InputError(`${value} is out of range; allowed is ${param.min} to ${param.max}.`);
    return value;
  };
  return (
    <>
      <Choice
        label="Shape"
        value={shape}
        options={SHAPES.map((name) => [name, name] as const)}
        onChange={setShape}
        width="92px"
      />
      <TypedValue
        label="Shape from"
        text={String(from)}
        width="48px"
        borderColor="rule"
        onCommit={(text) => setFrom(within(text))}
      />
      <Text>to</Text>
      <TypedValue
        label="Shape to"
        text={String(to)}
        width="48px"
        borderColor="rule"
        onCommit={(text) => setTo(within(text))}
      />
      <Text>×</Text>
      <TypedValue
        label="Times the shape is repeated"
        text={String(cycles)}
        width="38px"
        borderColor="rule"
        onCommit={(text) => {
          const count = parseNumber(text);
          if (!Number.isInteger(count) || count < 1 || count > 200)
            throw new InputError(`${text} times is not allowed; write a whole number from 1 to 200.`);
          setCycles(count);
        }}
      />
      <Box flexBasis="100%" height="0" />
      {unit}
      <Button
        size="2xs"
        variant="outline"
        borderColor="rule"
        disabled={stretch[1] <= stretch[0]}
        onClick={() => {
          onStamp(shape, from, to, cycles, seed);
          if (shape === 'random') setSeed(seed + 1);
        }}
      >
        Stamp on {stretchText}
      </Button>
    </>
  );
}
