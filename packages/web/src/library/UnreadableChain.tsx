import { Button, HStack, Link, Table, Text } from '@chakra-ui/react';
import { Download, X } from 'lucide-react';
import { useState } from 'react';
import type { ChainEntry } from '@hexenkessel/core/protocol';
import { problemOf, storedChainUrl, useDeleteChainMutation } from '../api/api.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';

/** A chain that cannot be read: what is wrong with it, and the ways to save what there is of it or to be rid of it. */
export function UnreadableChain({ chain, columns }: { readonly chain: ChainEntry; readonly columns: number }) {
  const [asked, setAsked] = useState(false);
  const [remove, { isLoading }] = useDeleteChainMutation();
  const deleteIt = async () => {
    const result = await remove(chain.id);
    if ('error' in result) tellFailure('Not deleted', problemOf(result.error).detail);
    else tellDone('Deleted', `“${chain.name}” is gone; sounds that were rendered with it stay.`);
  };
  return (
    <Table.Row bg="transparent" data-unreadable={chain.name}>
      <Table.Cell colSpan={columns - 1}>
        <Text fontFamily="heading" fontSize="lg">
          {chain.name}
        </Text>
        <Text fontSize="sm" color="alarm">
          {chain.fault}
        </Text>
      </Table.Cell>
      <Table.Cell>
        {asked ? (
          <HStack>
            <Button size="xs" colorPalette="copperInk" loading={isLoading} onClick={() => void deleteIt()}>
              Delete for good
            </Button>
            <Button size="xs" variant="outline" borderColor="rule" autoFocus onClick={() => setAsked(false)}>
              Keep it
            </Button>
          </HStack>
        ) : (
          <HStack>
            <Link
              href={storedChainUrl(chain.id)}
              download={`${chain.name}.zip`}
              fontSize="sm"
              color="copper"
              minHeight="24px"
              aria-label={`Download what is stored of ${chain.name}`}
            >
              <Download size={14} aria-hidden /> Download
            </Link>
            <Button
              size="xs"
              variant="ghost"
              color="alarm"
              aria-label={`Delete ${chain.name}`}
              onClick={() => setAsked(true)}
            >
              <X size={14} /> Delete
            </Button>
          </HStack>
        )}
      </Table.Cell>
    </Table.Row>
  );
}
