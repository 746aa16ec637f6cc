import { Box, Button, Grid, HStack, Text } from '@chakra-ui/react';
import { X } from 'lucide-react';
import { InputError, parseNumber, showSeconds, type Clip } from '@hexenkessel/core/model';
import { bestLoopEnd, seamDifference } from '@hexenkessel/core/analysis';
import type { SoundLoop } from '@hexenkessel/core/formats';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { LOOP_COLOURS } from './LoopSpan.tsx';
import { SeamView } from './SeamView.tsx';
import { readFrame } from './readFrame.ts';

const MOST_REPEATS = 10_000;

interface RowProps {
  readonly kind: SoundLoop['kind'];
  readonly clip: Clip;
  readonly loop: SoundLoop | undefined;
  /** Of the sound; null where it is not known. */
  readonly tempo: number | null;
  readonly onChange: (loop: SoundLoop | undefined) => void;
  readonly snapped: (frame: number, free: boolean) => number;
}

/** The end near `end` that leads best into the start. */
const fitted = (clip: Clip, start: number, end: number) =>
  bestLoopEnd(clip, start, end, Math.min(Math.round(0.5 * clip.sampleRate), Math.round((end - start) / 4)));

/** A loop in figures, with what its seam looks like. */
export function LoopRow({ kind, clip, loop, tempo, onChange, snapped }: RowProps) {
  const frames = clip.channels[0].length;
  if (!loop) {
    const [from, to] = kind === 'sustain' ? [0.3, 0.6] : [0.7, 0.9];
    return (
      <Box>
        <Button
          size="xs"
          variant="outline"
          borderColor="rule"
          onClick={() => {
            const start = snapped(Math.round(from * frames), false);
            onChange({ kind, start, end: fitted(clip, start, Math.round(to * frames)), times: 0 });
          }}
        >
          Place a {kind} loop
        </Button>
        <Text fontSize="xs" color="faded" mt="1">
          {kind === 'sustain' ? 'Loops as long as a note is held.' : 'Loops once the note is released.'}
        </Text>
      </Box>
    );
  }
  const frame = (text: string, low: number, high: number) => readFrame(text, clip.sampleRate, tempo, low, high);
  const count = (text: string) => {
    const value = parseNumber(text);
    if (!Number.isInteger(value) || value < 0 || value > MOST_REPEATS)
      throw new InputError(`${text} is not allowed; write a whole number up to ${MOST_REPEATS}, or infinite.`);
    return value;
  };
  const seam = seamDifference(clip, loop.start, loop.end);
  return (
    <Box borderTopWidth="2px" borderColor={LOOP_COLOURS[kind]} pt="1">
      <HStack justify="space-between">
        <Text fontWeight="600">{kind} loop</Text>
        <IconAction label={`Remove the ${kind} loop`} size="2xs" onClick={() => onChange(undefined)}>
          <X size={14} />
        </IconAction>
      </HStack>
      <Grid templateColumns="44px 1fr 60px" fontSize="sm" alignItems="center">
        <Text>start</Text>
        <TypedValue
          label={`Start of the ${kind} loop in samples`}
          text={String(loop.start)}
          onCommit={(text) => onChange({ ...loop, start: frame(text, 0, loop.end - 1) })}
        />
        <Text fontSize="xs" color="faded" fontFamily="mono">
          {showSeconds(loop.start / clip.sampleRate)}
        </Text>
        <Text>end</Text>
        <TypedValue
          label={`End of the ${kind} loop in samples`}
          text={String(loop.end)}
          onCommit={(text) => onChange({ ...loop, end: frame(text, loop.start + 1, frames) })}
        />
        <Text fontSize="xs" color="faded" fontFamily="mono">
          {showSeconds(loop.end / clip.sampleRate)}
        </Text>
        <Text>repeats</Text>
        <TypedValue
          label={`Repeats of the ${kind} loop`}
          text={loop.times === 0 ? 'infinite' : String(loop.times)}
          onCommit={(text) => onChange({ ...loop, times: /inf|ever|∞/i.test(text) ? 0 : count(text) })}
        />
        <span />
      </Grid>
      <SeamView clip={clip} loop={loop} />
      <Text fontSize="xs" color={seam > 0.3 ? 'alarm' : 'faded'}>
        {seam > 0.3 ? 'Audible seam' : 'Seamless'}: {Math.round(100 * Math.min(2, seam))} % of what sounds there
        differs.
      </Text>
      <Button
        size="2xs"
        variant="outline"
        borderColor="rule"
        onClick={() => onChange({ ...loop, end: fitted(clip, loop.start, loop.end) })}
      >
        Optimise the end of the {kind} loop
      </Button>
    </Box>
  );
}
