import { Button, HStack, Spinner, Text } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { problemOf } from '../api/api.ts';

interface Props<T> {
  readonly query: {
    readonly data?: T | undefined;
    readonly error?: unknown;
    readonly isLoading: boolean;
    /** True while it waits to be asked for. */
    readonly isUninitialized?: boolean;
    readonly refetch: () => unknown;
  };
  readonly what: string;
  readonly children: (data: T) => ReactNode;
}

/** Shows what was asked for, that it is on its way, or why it does not come and what to do. */
export function QueryState<T>({ query, what, children }: Props<T>) {
  if (query.data !== undefined) return children(query.data);
  if (query.isLoading || query.isUninitialized) {
    return (
      <HStack p="4" role="status">
        <Spinner size="sm" /> <Text>Loading {what} …</Text>
      </HStack>
    );
  }
  return (
    <HStack p="4" role="alert" gap="4">
      <Text color="alarm">
        Could not load {what}. {problemOf(query.error).detail}
      </Text>
      <Button size="sm" variant="outline" onClick={() => query.refetch()}>
        Try again
      </Button>
    </HStack>
  );
}
