import { Box, Button, Heading, Text } from '@chakra-ui/react';
import { Component, type ReactNode } from 'react';

/** Keeps a fault in one view from taking the rest along. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { fault: Error | undefined }> {
  override state: { fault: Error | undefined } = { fault: undefined };

  static getDerivedStateFromError(fault: Error) {
    return { fault };
  }

  override render() {
    const { fault } = this.state;
    if (!fault) return this.props.children;
    return (
      <Box p="6" role="alert">
        <Heading as="h1" size="xl">
          This view has stopped
        </Heading>
        <Text my="3">{fault.message}</Text>
        <Text mb="3">What was saved is safe on the server. Go on by showing the view again.</Text>
        <Button size="sm" onClick={() => this.setState({ fault: undefined })}>
          Show it again
        </Button>
      </Box>
    );
  }
}
