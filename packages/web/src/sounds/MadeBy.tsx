import { Button, HStack, Link, Stack, Text } from '@chakra-ui/react';
import { History, RefreshCw } from 'lucide-react';
import { Link as RouterLink } from 'react-router';
import { leftOutText } from '@hexenkessel/core/formats';
import type { Sound } from '@hexenkessel/core/protocol';
import { problemOf, useRenderAgainMutation } from '../api/api.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { coveredText } from './coveredText.ts';

/** Which chain made a render out of what, and the ways back: restore it, or render it again. */
export function MadeBy({ sound }: { readonly sound: Sound }) {
  const [again, { isLoading }] = useRenderAgainMutation();
  const { lineage } = sound;
  if (!lineage) return null;
  const { sourceId, sourceName, chainId, chainName, version, renderId, region } = lineage;
  const leftOut = lineage.leftOut && leftOutText(lineage.leftOut);
  return (
    <Stack gap="1" fontSize="sm">
      <Text>
        Made of{' '}
        <Link asChild color="copper">
          <RouterLink to={`/sounds/${sourceId}`}>{sourceName}</RouterLink>
        </Link>
        {region && `, ${coveredText(region, sound.sampleRate)},`} by{' '}
        <Text as="span" fontWeight="600">
          {chainName}
        </Text>
        , {version}.
      </Text>
      <HStack>
        <Button asChild size="xs" variant="outline" borderColor="rule">
          <RouterLink to={`/bench/${chainId}?sound=${sourceId}&restore=${renderId}`}>
            <History size={14} /> Restore
          </RouterLink>
        </Button>
        <Button
          size="xs"
          variant="outline"
          borderColor="rule"
          disabled={sound.sealed}
          loading={isLoading}
          onClick={async () => {
            const result = await again(renderId);
            if ('error' in result) tellFailure('Not rendered', problemOf(result.error).detail);
            else tellDone('Rendering again', 'It becomes a new sound beside this one.');
          }}
        >
          <RefreshCw size={14} /> Render again
        </Button>
      </HStack>
      {leftOut && (
        <Text fontSize="xs" color="faded">
          {leftOut}
        </Text>
      )}
      <Text fontSize="xs" color="faded">
        Restore opens the chain as it was, on its source. {sound.sealed && 'A sealed render is not rendered again.'}
      </Text>
    </Stack>
  );
}
