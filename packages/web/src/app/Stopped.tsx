import { Box, Button, Heading, Text } from '@chakra-ui/react';
import type { FallbackProps } from 'react-error-boundary';
import { NotLoaded } from './notLoaded.ts';

/** Stands where something broke, or has not come, and leaves the rest alone. */
export function Stopped({ error, resetErrorBoundary }: FallbackProps) {
  const missing = error instanceof NotLoaded;
  return (
    <Box p="6" role="alert">
      <Heading as="h1" size="xl">
        {missing ? 'This view could not be loaded' : 'This view has stopped'}
      </Heading>
      <Text my="3">{error instanceof Error ? error.message : String(error)}</Text>
      <Text mb="3">
        What was saved is safe on the server. Go on by {missing ? 'loading the page anew' : 'showing the view again'}.
      </Text>
      <Button size="sm" onClick={missing ? () => location.reload() : resetErrorBoundary}>
        {missing ? 'Load the page anew' : 'Show it again'}
      </Button>
    </Box>
  );
}
