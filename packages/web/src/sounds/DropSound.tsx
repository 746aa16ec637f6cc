import { Box, Spinner, Text } from '@chakra-ui/react';
import { useDropzone } from 'react-dropzone';
import type { Sound } from '@hexenkessel/core';
import { useTakeSound } from './useTakeSound.ts';

/** A place to drop WAV files on, or to pick them from. */
export function DropSound({
  invitation,
  onTaken,
  slim = false,
}: {
  invitation: string;
  onTaken?: (sound: Sound) => void;
  slim?: boolean;
}) {
  const { take, busy } = useTakeSound();
  const { getRootProps, getInputProps, isDragActive } = useDropzone({
    onDrop: async (files) => {
      const [first] = await take(files);
      if (first) onTaken?.(first);
    },
  });
  return (
    <Box
      {...getRootProps()}
      role="button"
      aria-label={invitation}
      borderWidth="2px"
      borderStyle="dashed"
      borderColor={isDragActive ? 'copper' : 'rule'}
      bg={isDragActive ? 'shade' : 'sheet'}
      p={slim ? '2' : '6'}
      textAlign="center"
      cursor="pointer"
    >
      <input {...getInputProps()} aria-label="WAV files" />
      {busy ? <Spinner size="sm" /> : <Text fontSize={slim ? 'md' : 'lg'}>{invitation}</Text>}
      <Text fontSize="sm" color="faded">
        WAV, 1 or 2 channels, 8 to 192 kHz. The original is never altered.
      </Text>
    </Box>
  );
}
