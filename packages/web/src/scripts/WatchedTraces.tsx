import { Box, HStack, Text } from '@chakra-ui/react';
import type { Watched, WatchedValue } from '@hexenkessel/core/script';

const COLOURS = ['copper', 'verdigris', 'alarm', 'ink'] as const;
const DASHES = ['', '5 3', '2 2', '8 3 2 3'] as const;
const HEIGHT = 100;

interface Props {
  readonly watched: Watched;
  /** Of the width that the traces cover. */
  readonly share: number;
}

/** Traces of watched values over the sound, each over its own range, which is written beside its name. */
export function WatchedTraces({ watched, share }: Props) {
  return (
    <>
      <svg
        viewBox={`0 0 ${watched.values[0].low.length} ${HEIGHT}`}
        preserveAspectRatio="none"
        style={{ position: 'absolute', inset: 0, width: `${100 * share}%`, height: '100%' }}
        role="img"
        aria-label={`Watched: ${watched.values.map(labelOf).join('; ')}`}
        data-watched={watched.values.map(({ name }) => name).join(' ')}
      >
        {watched.values.map((value, n) => (
          <polyline
            key={value.name}
            points={pointsOf(value)}
            fill="none"
            stroke={`var(--chakra-colors-${COLOURS[n % COLOURS.length]})`}
            strokeDasharray={DASHES[Math.floor(n / COLOURS.length) % DASHES.length]}
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <HStack position="absolute" top="1px" right="4px" gap="3" fontSize="xs" wrap="wrap" pointerEvents="none">
        {watched.values.map((value, n) => (
          <Box key={value.name} bg="paper" px="1">
            <Text as="span" color={COLOURS[n % COLOURS.length]} fontFamily="mono">
              {labelOf(value)}
            </Text>
          </Box>
        ))}
      </HStack>
    </>
  );
}

function rangeOf({ low, high }: WatchedValue): readonly [number, number] {
  const least = Math.min(...low.filter(Number.isFinite));
  const most = Math.max(...high.filter(Number.isFinite));
  return Number.isFinite(least) && Number.isFinite(most) ? [least, most] : [0, 0];
}

const shown = (value: number) => Number(value.toPrecision(3)).toString().replace('-', '−');

function labelOf(value: WatchedValue): string {
  const [least, most] = rangeOf(value);
  return `${value.name} ${shown(least)} … ${shown(most)}`;
}

function pointsOf(value: WatchedValue): string {
  const [least, most] = rangeOf(value);
  const y = (at: number) => (most > least ? HEIGHT - 4 - ((HEIGHT - 8) * (at - least)) / (most - least) : HEIGHT / 2);
  const points: string[] = [];
  value.low.forEach((low, column) => {
    const high = value.high[column];
    if (!Number.isFinite(low) || !Number.isFinite(high)) return;
    points.push(`${column},${y(low).toFixed(1)}`, ...(high > low ? [`${column},${y(high).toFixed(1)}`] : []));
  });
  return points.join(' ');
}
