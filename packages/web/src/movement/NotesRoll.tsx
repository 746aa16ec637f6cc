import { Box, Button, Flex, Text } from '@chakra-ui/react';
import { InputError, type Timing } from '@hexenkessel/core/model';
import type { Note } from '@hexenkessel/core/stages';
import { tellFailure } from '../app/toaster.tsx';
import { readFile } from '../files/readFile.ts';
import { useFilePick } from '../parts/useFilePick.tsx';

const [WIDTH, HEIGHT] = [400, 64];

interface Props {
  readonly notes: readonly Note[];
  readonly timing: Timing;
  readonly onChange: (notes: readonly Note[]) => boolean;
}

/** Played notes as strokes: higher is higher, harder is darker. They come from a MIDI file or are typed below. */
export function NotesRoll({ notes, timing, onChange }: Props) {
  const take = async (file: File) => {
    try {
      const beats = timing.meter[1] / 4;
      const found = await readFile('midiNotes', file);
      onChange(found.map((note) => ({ ...note, at: note.at * beats, length: note.length * beats })));
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      tellFailure('Notes not imported', error.message);
    }
  };
  const end = Math.max(1, ...notes.map(({ at, length }) => at + length));
  const keys = notes.map(({ key }) => key);
  const [low, high] = [Math.min(...keys, 127) - 1, Math.max(...keys, 0) + 1];
  const pick = useFilePick('Notes from a MIDI file', ['.mid', '.midi'], (file) => void take(file));
  return (
    <Box borderWidth="1px" borderColor="rule" bg="paper" my="1">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label={`${notes.length} notes`}>
        {notes.map(({ at, length, key, velocity }, n) => (
          <rect
            key={n}
            x={(at / end) * WIDTH}
            y={4 + ((high - key) / Math.max(1, high - low)) * (HEIGHT - 12)}
            width={Math.max(2, (length / end) * WIDTH - 1)}
            height="4"
            fill="var(--chakra-colors-verdigris)"
            opacity={0.35 + 0.65 * velocity}
          />
        ))}
      </svg>
      <Flex justify="space-between" align="center" px="2" py="0.5" borderTopWidth="1px" borderColor="rule">
        <Text fontSize="xs" color="faded">
          {notes.length === 0 ? 'no notes yet' : `${notes.length} notes over ${Number(end.toFixed(2))} beats`}
        </Text>
        {pick.input}
        <Button size="2xs" variant="outline" borderColor="rule" onClick={pick.open}>
          import MIDI
        </Button>
      </Flex>
    </Box>
  );
}
