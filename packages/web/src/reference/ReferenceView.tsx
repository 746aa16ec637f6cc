import { Box, Flex, Heading, Input, Stack, Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import { useLocation, useParams } from 'react-router';
import { BUILT_INS, MODULATORS, modulatorReferenceOf, reference, searchReference } from '@hexenkessel/core/stages';
import { emptyChain, newStage } from '@hexenkessel/core/chain';
import { EntryLink } from '../parts/EntryLink.tsx';
import { FamilyMark } from '../parts/family.tsx';
import { useKeptInAddress } from '../parts/useKeptInAddress.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { ModulatorArticle } from './ModulatorArticle.tsx';
import { ScriptArticle, useScriptStages } from './ScriptArticle.tsx';
import { StageArticle } from './StageArticle.tsx';
import { TempoArticle } from './TempoArticle.tsx';

/** In front of the id of a script, in the address. */
const SCRIPT = 'script-';

const TABLES = [{ kind: 'tempo', title: 'Tempo' }];

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
  const scripts = useScriptStages();
  usePageTitle(titleOf(kind) ?? scripts.find(({ id }) => SCRIPT + id === kind)?.stage.title, 'Reference');
  const fits = ({ title, keywords }: { readonly title: string; readonly keywords: readonly string[] }) =>
    [title, ...keywords].some((word) => word.toLowerCase().includes(words));
  const movers = MODULATORS.filter(fits);
  const written = scripts.filter(({ stage }) => fits(stage));
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
          <Kinds title="modulators" entries={movers} current={kind} />
          <Kinds
            title="scripts"
            entries={written.map(({ id, stage }) => ({ kind: SCRIPT + id, title: stage.title }))}
            current={kind}
          />
          <Kinds title="tables" entries={TABLES} current={kind} />
          {groups.length === 0 && movers.length === 0 && written.length === 0 && (
            <Text color="faded">Nothing fits. Try what should be heard: muffled, wider, backwards.</Text>
          )}
        </Box>
      </Stack>
      <Box flex="1" minWidth="0" minHeight="0" overflowY="auto" px={{ base: '4', md: '8' }} py="5" data-print="whole">
        {kind === 'tempo' ? (
          <TempoArticle />
        ) : modulator ? (
          <ModulatorArticle key={kind} modulator={modulatorReferenceOf(modulator)} />
        ) : kind.startsWith(SCRIPT) ? (
          <ScriptArticle key={kind} script={scripts.find(({ id }) => SCRIPT + id === kind)} />
        ) : BUILT_INS.knows({ kind }) ? (
          <BuiltInArticle key={kind} kind={kind} />
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

interface KindsProps {
  readonly title: string;
  readonly entries: readonly { readonly kind: string; readonly title: string }[];
  readonly current: string;
}

/** What there is beside built-in stages, under a heading; nothing where none fits. */
function Kinds({ title, entries, current }: KindsProps) {
  if (entries.length === 0) return null;
  return (
    <Box mb="3">
      <Text fontSize="sm" color="copper">
        {title}
      </Text>
      {entries.map((one) => (
        <KindLink key={one.kind} kind={one.kind} title={one.title} current={current} />
      ))}
    </Box>
  );
}

function KindLink({ kind, title, current }: { kind: string; title: string; current: string }) {
  const { search } = useLocation();
  return <EntryLink to={`/reference/${kind}${search}`} title={title} current={kind === current} />;
}

/** A stage that is built in. */
function BuiltInArticle({ kind }: { readonly kind: string }) {
  const chain = useMemo(() => {
    const empty = emptyChain(BUILT_INS, 'Reference');
    return { ...empty, stages: [newStage(BUILT_INS, empty, { kind })] };
  }, [kind]);
  return (
    <StageArticle
      chain={chain}
      beside={
        <Text fontFamily="mono" fontSize="sm" color="faded">
          {kind}
        </Text>
      }
    />
  );
}
