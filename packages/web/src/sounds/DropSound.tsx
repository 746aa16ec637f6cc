import { Box, Button, HStack, Spinner, Text } from '@chakra-ui/react';
import { useDropzone } from 'react-dropzone';
import type { Sound } from '@hexenkessel/core/protocol';
import { useTakeSound, type TakingHow } from './useTakeSound.ts';

interface Props {
  /** The first of the sounds that were taken. */
  readonly onTaken?: (sound: Sound) => void;
  readonly slim?: boolean;
  /** Channels and rate, where they are chosen. */
  readonly how?: TakingHow;
}

/** A place to drop sound files on, or to pick them from. */
export function DropSound({ onTaken, slim = false, how = {} }: Props) {
  const { take, busy } = useTakeSound();
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: async (files) => {
      const [first] = await take(files, how);
      if (first) onTaken?.(first);
    },
  });
  return (
    <Box
      {...getRootProps()}
      data-testid="drop-area"
      borderWidth="2px"
      borderStyle="dashed"
      borderColor={isDragActive ? 'copper' : 'rule'}
      bg={isDragActive ? 'shade' : 'sheet'}
      p={slim ? '2' : '6'}
      textAlign="center"
    >
      <input {...getInputProps()} aria-label="Sound files" />
      <HStack justify="center" mb="1">
        <Text fontSize={slim ? 'md' : 'lg'}>Drop a sound file here, or</Text>
        <Button size="sm" variant="outline" borderColor="rule" onClick={open} disabled={busy}>
          {busy ? <Spinner size="xs" /> : 'browse'}
        </Button>
      </HStack>
      <Text fontSize="sm" color="faded">
        WAV, AIFF, FLAC, Ogg Vorbis, Opus or MP3, 8 to 192 kHz. The original is never altered.
      </Text>
    </Box>
  );
}
