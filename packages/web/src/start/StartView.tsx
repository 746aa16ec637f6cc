import { Box, Button, Grid, Heading, HStack, Link, Stack, Text } from '@chakra-ui/react';
import { Link as RouterLink } from 'react-router';
import { showSeconds } from '@hexenkessel/core/model';
import { useChainPagesInfiniteQuery, useSoundPagesInfiniteQuery } from '../api/api.ts';
import { START_CHAINS, START_SOUNDS } from '../api/pages.ts';
import { useBeginChain } from '../chain/beginChain.ts';
import { QueryState } from '../parts/QueryState.tsx';
import { useAllPages } from '../parts/useAllPages.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { DropSound } from '../sounds/DropSound.tsx';

/** Take a sound and begin; or go on with a chain. */
export function StartView() {
  const sounds = useAllPages(useSoundPagesInfiniteQuery(START_SOUNDS));
  const chains = useAllPages(useChainPagesInfiniteQuery(START_CHAINS));
  const begin = useBeginChain();
  usePageTitle('Start');
  return (
    <Box overflowY="auto" height="100%" data-print="whole">
      <Box maxWidth="70rem" mx="auto" px="6" py="6">
        <Heading as="h1" size="3xl" mb="1">
          Take a sound and begin
        </Heading>
        <Text color="faded" mb="5">
          Build a chain of effects, hear and see what each stage makes of the sound, and keep it as a preset for the
          next one.
        </Text>
        <DropSound onTaken={(sound) => begin(sound.id)} />
        <Grid templateColumns={{ base: '1fr', md: '1fr 1fr' }} gap="10" mt="8">
          <Stack as="section" gap="1" aria-label="Shelf">
            <Heading as="h2" size="lg">
              Begin with a sound from the shelf
            </Heading>
            <QueryState query={sounds} what="the sounds">
              {({ items, total }) => (
                <>
                  {items.map((sound) => (
                    <HStack key={sound.id} justify="space-between" borderBottomWidth="1px" borderColor="rule" py="1">
                      <Text>{sound.name}</Text>
                      <HStack>
                        <Text fontFamily="mono" fontSize="sm" color="faded">
                          {showSeconds(sound.frames / sound.sampleRate)} · {sound.channels === 1 ? 'mono' : 'stereo'}
                        </Text>
                        <Button
                          size="2xs"
                          variant="outline"
                          borderColor="rule"
                          onClick={() => begin(sound.id)}
                          aria-label={`Begin with ${sound.name}`}
                        >
                          Begin
                        </Button>
                      </HStack>
                    </HStack>
                  ))}
                  {total > items.length && (
                    <Link asChild color="copper" py="1">
                      <RouterLink to="/sounds">All {total} sources stand under Sounds</RouterLink>
                    </Link>
                  )}
                </>
              )}
            </QueryState>
          </Stack>
          <Stack as="section" gap="1" aria-label="Chains">
            <Heading as="h2" size="lg">
              Go on with a chain
            </Heading>
            <QueryState query={chains} what="the chains">
              {({ items }) =>
                items.length === 0 ? (
                  <Text color="faded">There is no chain yet.</Text>
                ) : (
                  items.map((chain) => (
                    <Box key={chain.id} borderBottomWidth="1px" borderColor="rule" py="1.5">
                      <Link asChild fontFamily="heading" fontSize="lg" color="copper">
                        <RouterLink to={`/bench/${chain.id}`}>{chain.name}</RouterLink>
                      </Link>
                      <Text fontSize="sm">{chain.summary}</Text>
                      <Text fontSize="sm" color="faded">
                        {chain.stages.join(' → ') || 'no stages yet'}
                      </Text>
                    </Box>
                  ))
                )
              }
            </QueryState>
          </Stack>
        </Grid>
      </Box>
    </Box>
  );
}
