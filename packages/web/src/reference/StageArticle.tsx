import { Box, Button, Flex, HStack, Heading, Stack, Text } from '@chakra-ui/react';
import { Pause, Volume2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { BUILT_INS, referenceOf } from '@hexenkessel/core/stages';
import type { ChainDocument } from '@hexenkessel/core/chain';
import { useSoundNamesQuery } from '../api/api.ts';
import { Choice } from '../parts/Choice.tsx';
import { FamilyMark } from '../parts/family.tsx';
import { StagePictureView } from '../pictures/StagePictureView.tsx';
import { usePicture } from '../pictures/usePicture.ts';
import { useSoundById } from '../sounds/useSounds.ts';
import { Listening } from './Listening.tsx';
import { ParamTable } from './ParamTable.tsx';

interface Props {
  /** Of the one stage that is explained, as it comes. */
  readonly chain: ChainDocument;
  /** What stands beside its title: its kind, or where its text is. */
  readonly beside: ReactNode;
}

/** A stage explained: what it does, its picture, what it is held to, its parameters, how it sounds. */
export function StageArticle({ chain, beside }: Props) {
  const [sample] = chain.stages;
  const stage = referenceOf(BUILT_INS.for(chain).of(sample));
  const picture = usePicture(sample, chain.timing, chain.scripts);
  return (
    <Stack as="article" gap="4" maxWidth="60rem">
      <Flex justify="space-between" align="start" gap="4" wrap={{ base: 'wrap', lg: 'nowrap' }}>
        <Box>
          <HStack gap="3" align="baseline" wrap="wrap">
            <Heading as="h2" size="3xl">
              {stage.title}
            </Heading>
            <FamilyMark family={stage.family} />
            {beside}
          </HStack>
          <Text fontSize="lg">{stage.summary}</Text>
        </Box>
        <Listen chain={chain} />
      </Flex>
      <Flex gap="6" wrap="wrap">
        {picture && (
          <Box width="404px" maxWidth="100%" overflowX="auto" flexShrink={0}>
            <StagePictureView picture={picture} />
          </Box>
        )}
        <Box flex="1" minWidth="260px">
          <Text>{stage.facts.join(' ')}</Text>
          <Text color="faded" mt="2">
            Keywords: {stage.keywords.join(', ')}
          </Text>
          {stage.measures.length > 0 && (
            <>
              <Heading as="h3" size="md" mt="3">
                Tested tolerances
              </Heading>
              <Box as="ul" ps="5" css={{ listStyle: 'disc' }}>
                {stage.measures.map((measure) => (
                  <li key={measure}>{measure}</li>
                ))}
              </Box>
            </>
          )}
        </Box>
      </Flex>
      <Heading as="h3" size="lg" borderBottomWidth="1px" borderColor="rule">
        Parameters
      </Heading>
      {stage.params.length === 0 && <Text color="faded">No parameters.</Text>}
      <ParamTable params={stage.params} />
    </Stack>
  );
}

/** Plays a sound through the stage as it comes. */
function Listen({ chain }: { readonly chain: ChainDocument }) {
  const sounds = (useSoundNamesQuery().data ?? []).filter((sound) => sound.kind !== 'render');
  const [chosen, setChosen] = useState<string>();
  const [listening, setListening] = useState(false);
  const named = sounds.find(({ id }) => id === chosen) ?? sounds.find((candidate) => candidate.kind === 'source');
  const { sound } = useSoundById(named?.id);
  if (!sound) return null;
  return (
    <Stack gap="1" align="end" flexShrink={{ base: 1, lg: 0 }} data-print="never">
      <HStack wrap={{ base: 'wrap', lg: 'nowrap' }}>
        <Choice
          label="Sound to listen with"
          value={sound.id}
          options={sounds.map(({ id, name }) => [id, name] as const)}
          onChange={(id) => {
            setListening(false);
            setChosen(id);
          }}
          width="200px"
        />
        <Button size="sm" colorPalette="copperInk" onClick={() => setListening(!listening)}>
          {listening ? <Pause size={15} /> : <Volume2 size={15} />}
          {listening ? 'Stop' : 'Listen'}
        </Button>
      </HStack>
      <Text fontSize="xs" color="faded" minHeight="18px">
        {listening && <Listening key={sound.id} chain={chain} sound={sound} onEnd={() => setListening(false)} />}
      </Text>
    </Stack>
  );
}
