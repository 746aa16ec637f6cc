import { Box, Button, Text } from '@chakra-ui/react';
import { useState, type ReactNode } from 'react';
import { InputError, parseNumber } from '@hexenkessel/core/model';
import { MOST_CYCLES, SHAPES, type Shape } from '@hexenkessel/core/stages';
import { Choice } from '../../parts/Choice.tsx';
import { TypedValue } from '../TypedValue.tsx';

/** Which shape is stamped, from where to where. */
export function StampRow({
  parse,
  print,
  first,
  stretch,
  stretchText,
  unit,
  onStamp,
}: {
  /** Reads a height that was typed; InputError when it is not allowed. */
  readonly parse: (text: string) => number;
  readonly print: (height: number) => string;
  /** Where it goes at first. */
  readonly first: readonly [from: number, to: number];
  readonly stretch: readonly [number, number];
  readonly stretchText: string;
  /** What the places count, on a line of its own between the shape and its button. */
  readonly unit?: ReactNode;
  readonly onStamp: (shape: Shape, from: number, to: number, cycles: number, seed: number) => void;
}) {
  const [shape, setShape] = useState<Shape>('line');
  const [from, setFrom] = useState(first[0]);
  const [to, setTo] = useState(first[1]);
  const [cycles, setCycles] = useState(1);
  const [seed, setSeed] = useState(1);
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
        text={print(from)}
        width="64px"
        borderColor="rule"
        onCommit={(text) => setFrom(parse(text))}
      />
      <Text>to</Text>
      <TypedValue
        label="Shape to"
        text={print(to)}
        width="64px"
        borderColor="rule"
        onCommit={(text) => setTo(parse(text))}
      />
      <Text>×</Text>
      <TypedValue
        label="Cycles of the shape"
        text={String(cycles)}
        width="38px"
        borderColor="rule"
        onCommit={(text) => {
          const count = parseNumber(text);
          if (!Number.isInteger(count) || count < 1 || count > MOST_CYCLES)
            throw new InputError(`${text} times is not allowed; write a whole number from 1 to ${MOST_CYCLES}.`);
          setCycles(count);
        }}
      />
      {unit !== undefined && <Box flexBasis="100%" height="0" />}
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
        Insert shape {stretchText}
      </Button>
    </>
  );
}
