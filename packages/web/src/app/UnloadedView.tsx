import { Box, Button, Heading, Text } from '@chakra-ui/react';
import { usePageTitle } from '../parts/usePageTitle.ts';

/** Stands where the code of a view did not come: the server is away, or has another version by now. */
export function UnloadedView() {
  usePageTitle('Not loaded');
  return (
    <Box p="6" role="alert">
      <Heading as="h1" size="xl">
        This view could not be loaded
      </Heading>
      <Text my="3">The server does not answer, or has been brought up to date since this page was opened.</Text>
      <Button size="sm" onClick={() => location.reload()}>
        Load the page anew
      </Button>
    </Box>
  );
}
