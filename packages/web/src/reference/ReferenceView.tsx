import { Box, Button, Flex, HStack, Heading, Input, Stack, Text } from '@chakra-ui/react';
import { Pause, Volume2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useLocation, useParams } from 'react-router';
import {
  BUILT_INS,
  MODULATORS,
  modulatorReferenceOf,
  reference,
  referenceOf,
  searchReference,
  type StageReference,
} from '@hexenkessel/core/stages';
import { emptyChain, newStage } from '@hexenkessel/core/chain';
import { useSoundNamesQuery } from '../api/api.ts';
import { Choice } from '../parts/Choice.tsx';
import { EntryLink } from '../parts/EntryLink.tsx';
import { FamilyMark } from '../parts/family.tsx';
import { useKeptInAddress } from '../parts/useKeptInAddress.ts';
import { useSoundById } from '../sounds/useSounds.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { StagePictureView } from '../pictures/StagePictureView.tsx';
import { usePicture } from '../pictures/usePicture.ts';
import { ParamTable } from './ParamTable.tsx';
import { Listening } from './Listening.tsx';
import { ModulatorArticle } from './ModulatorArticle.tsx';
import { TempoArticle } from './TempoArticle.tsx';

/** Every stage and parameter explained, with its picture, what it is held to, and how it sounds. */
export function ReferenceView() {
  const { kind = BUILT_INS.stages[0].kind } = useParams();
  const [text, setText] = useKeptInAddress('find');
  const found = useMemo(() => new Set(searchReference(BUILT_INS, text).map((stage) => stage.kind)), [text]);
  const groups = reference(BUILT_INS)
    .map(({ family, stages }) => ({ family, stages: stages.filter((stage) => found.has(stage.kind)) }))
    .filter(({ stages }) => stages.length > 0);
  const modulator = MODULATORS.find((one) => one.kind === kind);
  const words = text.trim().toLowerCase();
  usePageTitle(titleOf(kind), 'Reference');
  const movers = MODULATORS.filter(({ title, keywords }) =>
    [title, ...keywords].some((word) => word.toLowerCase().includes(words)),
  );
  return (
    <Flex data-print="whole" height="100%" minHeight="0" direction={{ base: 'column', md: 'row' }}>
      <Stack
        width={{ base: '100%', md: '252px' }}
        maxHeight={{ base: '36vh', md: 'none' }}
        flexShrink={0}
        borderRightWidth={{ base: '0', md: '1px' }}
        borderBottomWidth={{ base: '1px', md: '0' }}
        borderColor="rule"
        px="4"
        py={{ base: '2', md: '4' }}
        gap="3"
        minHeight="0"
        data-print="never"
      >
        <Heading as="h1" size="2xl">
          Reference
        </Heading>
        <Input
          size="sm"
          aria-label="Find a stage or a parameter"
          placeholder="robot, slow down, feedback …"
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <Box as="nav" aria-label="Stages" overflowY="auto" flex="1" minHeight="0">
          {groups.map(({ family, stages }) => (
            <Box key={family} mb="3">
              <FamilyMark family={family} />
              {stages.map((stage) => (
                <KindLink key={stage.kind} kind={stage.kind} title={stage.title} current={kind} />
              ))}
            </Box>
          ))}
          {movers.length > 0 && (
            <Box mb="3">
              <Text fontSize="sm" color="copper">
                modulators
              </Text>
              {movers.map((one) => (
                <KindLink key={one.kind} kind={one.kind} title={one.title} current={kind} />
              ))}
            </Box>
          )}
          <Box mb="3">
            <Text fontSize="sm" color="copper">
              tables
            </Text>
            <KindLink kind="tempo" title="Tempo" current={kind} />
          </Box>
          {groups.length === 0 && movers.length === 0 && (
            <Text color="faded">Nothing fits. Try what should be heard: muffled, wider, backwards.</Text>
          )}
        </Box>
      </Stack>
      <Box flex="1" minWidth="0" minHeight="0" overflowY="auto" px={{ base: '4', md: '8' }} py="5" data-print="whole">
        {kind === 'tempo' ? (
          <TempoArticle />
        ) : modulator ? (
          <ModulatorArticle key={kind} modulator={modulatorReferenceOf(modulator)} />
        ) : BUILT_INS.knows({ kind }) ? (
          <StageArticle key={kind} stage={referenceOf(BUILT_INS.of({ kind }))} />
        ) : (
          <Text>There is no stage “{kind}”. The stages are named on the left.</Text>
        )}
      </Box>
    </Flex>
  );
}

function titleOf(kind: string): string | undefined {
  if (kind === 'tempo') return 'Tempo';
  const modulator = MODULATORS.find((one) => one.kind === kind);
  return modulator?.title ?? (BUILT_INS.knows({ kind }) ? BUILT_INS.of({ kind }).title : undefined);
}

function KindLink({ kind, title, current }: { kind: string; title: string; current: string }) {
  const { search } = useLocation();
  return <EntryLink to={`/reference/${kind}${search}`} title={title} current={kind === current} />;
}

const TIMING = emptyChain(BUILT_INS, 'Reference').timing;

function StageArticle({ stage }: { readonly stage: StageReference }) {
  const sample = useMemo(
    () => newStage(BUILT_INS, emptyChain(BUILT_INS, 'Reference'), { kind: stage.kind }),
    [stage.kind],
  );
  const picture = usePicture(sample, TIMING);
  return (
    <Stack as="article" gap="4" maxWidth="60rem">
      <Flex justify="space-between" align="start" gap="4" wrap={{ base: 'wrap', lg: 'nowrap' }}>
        <Box>
          <HStack gap="3" align="baseline" wrap="wrap">
            <Heading as="h2" size="3xl">
              {stage.title}
            </Heading>
            <FamilyMark family={stage.family} />
            <Text fontFamily="mono" fontSize="sm" color="faded">
              {stage.kind}
            </Text>
          </HStack>
          <Text fontSize="lg">{stage.summary}</Text>
        </Box>
        <Listen kind={stage.kind} />
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
function Listen({ kind }: { readonly kind: string }) {
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
        {listening && (
          <Listening key={`${kind} ${sound.id}`} kind={kind} sound={sound} onEnd={() => setListening(false)} />
        )}
      </Text>
    </Stack>
  );
}
