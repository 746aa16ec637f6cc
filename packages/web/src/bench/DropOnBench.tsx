import { Box, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { useSoundFiles } from './useSoundFiles.ts';

/** The Bench takes sound files that are dropped anywhere on it: the chain is heard on the first of them. */
export function DropOnBench({
  onSound,
  children,
}: {
  readonly onSound: (id: string) => void;
  readonly children: ReactNode;
}) {
  const { getRootProps, isDragActive, busy } = useSoundFiles(onSound);
  return (
    <Box
      {...getRootProps()}
      data-testid="drop-area"
      tabIndex={undefined}
      role={undefined}
      position="relative"
      height="100%"
      minHeight="0"
    >
      {children}
      {(isDragActive || busy) && (
        <Box
          position="absolute"
          inset="0"
          zIndex="overlay"
          display="flex"
          alignItems="center"
          justifyContent="center"
          pointerEvents="none"
          borderWidth="3px"
          borderStyle="dashed"
          borderColor="copper"
          css={{ backgroundColor: 'color-mix(in srgb, var(--chakra-colors-paper) 70%, transparent)' }}
        >
          <Text fontSize="xl" fontFamily="heading" role="status">
            {busy ? 'Importing …' : 'Drop a sound to hear the chain on it'}
          </Text>
        </Box>
      )}
    </Box>
  );
}
