import { Box, Button, Heading, Text } from '@chakra-ui/react';
import type { FallbackProps } from 'react-error-boundary';

/** Stands where something broke, and leaves the rest alone. */
export function Stopped({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <Box p="6" role="alert">
      <Heading as="h1" size="xl">
        This view has stopped
      </Heading>
      <Text my="3">{error instanceof Error ? error.message : String(error)}</Text>
      <Text mb="3">What was saved is safe on the server. Go on by showing the view again.</Text>
      <Button size="sm" onClick={resetErrorBoundary}>
        Show it again
      </Button>
    </Box>
  );
}
