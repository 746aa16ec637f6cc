import { Text } from '@chakra-ui/react';

/** Stands until the first view has come. */
export function Opening() {
  return (
    <Text p="6" role="status">
      Opening …
    </Text>
  );
}
