import { Table, Text } from '@chakra-ui/react';
import type { ParamReference } from '@hexenkessel/core/stages';

/** Parameters with their ranges, their defaults, and what is heard. */
export function ParamTable({ params }: { readonly params: readonly ParamReference[] }) {
  return (
    <Table.Root size="sm" variant="line">
      <Table.Body>
        {params.map(({ key, label, range, default: standard, doc, followsTempo, count }) => (
          <Table.Row key={key} bg="transparent" verticalAlign="top">
            <Table.Cell fontWeight="600" width="150px">
              {label}
              {count > 1 && (
                <Text fontSize="xs" color="faded" fontWeight="400">
                  ×{count}, same range
                </Text>
              )}
            </Table.Cell>
            <Table.Cell width="230px">
              <Text fontFamily="mono" fontSize="sm">
                {range}
              </Text>
              <Text fontSize="xs" color="faded">
                default {standard}
                {followsTempo ? ' · tempo sync' : ''}
              </Text>
            </Table.Cell>
            <Table.Cell>{doc}</Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  );
}
