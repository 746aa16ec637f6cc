import { Box, Grid, Heading, Kbd, Text } from '@chakra-ui/react';
import { ROW_KEYS } from '../movement/rowKeys.ts';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { ROW_STEPS } from '../parameters/rowSteps.ts';
import { ZOOM_KEYS } from '../cascade/zoomKeys.ts';
import { BENCH_KEYS } from './benchKeys.ts';

type Shown = readonly (readonly [key: string, does: string])[];

const SCALE: Shown = [
  ['← →', 'adjust by 1 %'],
  ['Page ↑ ↓', 'adjust by 10 %'],
  ['Home, End', 'to the minimum or maximum'],
  ['Delete', 'back to the default'],
];

const PLACES: Shown = [
  ['Alt+↑ ↓', 'move the stage that has the focus'],
  ['← → ↑ ↓', 'move a breakpoint, a handle of a picture, an edge of a loop'],
  ['Delete', 'remove a breakpoint or a route'],
  ['Enter', 'switch a route between bipolar and unipolar, on its depth'],
];

/** Every key of the Bench. */
export function KeysDialog({ onClose }: { readonly onClose: () => void }) {
  const onRows = Object.values(ROW_KEYS).map(({ key, does }) => [key.toUpperCase(), does] as const);
  return (
    <PlainDialog title="Keyboard shortcuts" size="lg" onClose={onClose}>
      <Grid templateColumns="1fr 1fr" gap="6" fontSize="sm">
        <Keys title="anywhere" keys={Object.values(BENCH_KEYS).map(({ shown, does }) => [shown, does])} />
        <Box>
          <Keys title="on a parameter" keys={[...onRows, ...SCALE, ...ROW_STEPS]} />
          <Keys title="on the ruler" keys={Object.values(ZOOM_KEYS).map(({ shown, does }) => [shown, does])} />
          <Keys title="elsewhere" keys={PLACES} />
        </Box>
      </Grid>
    </PlainDialog>
  );
}

function Keys({ title, keys }: { readonly title: string; readonly keys: Shown }) {
  return (
    <Box mb="3">
      <Heading as="h2" fontSize="md" fontFamily="heading" color="copper" mb="1">
        {title}
      </Heading>
      <Grid templateColumns="max-content 1fr" columnGap="3" rowGap="1" alignItems="baseline">
        {keys.map(([key, does]) => (
          <Box key={`${key} ${does}`} display="contents">
            <Kbd size="sm" variant="outline" bg="paper" borderColor="rule" boxShadow="none" justifySelf="start">
              {key}
            </Kbd>
            <Text>{does}</Text>
          </Box>
        ))}
      </Grid>
    </Box>
  );
}
