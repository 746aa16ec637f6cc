import { Box, Heading, HStack, Stack, Text } from '@chakra-ui/react';
import { useMemo } from 'react';
import { BUILT_INS, type ModulatorReference } from '@hexenkessel/core/stages';
import { addModulator, addRoute, emptyChain, newStage } from '@hexenkessel/core/chain';
import { planModulators, planStages, traceMovement, type MovementTrace } from '@hexenkessel/core/engine';
import { tracePath } from '../movement/traceReading.ts';
import { ParamTable } from './ParamTable.tsx';

const RATE = 48000;
const SECONDS = 4;
const [WIDTH, HEIGHT] = [640, 120];

/** A modulator explained, with its way over four seconds of struck notes. */
export function ModulatorArticle({ modulator }: { readonly modulator: ModulatorReference }) {
  const { kind, title, summary, facts, keywords, params } = modulator;
  const trace = useMemo(() => sampleTrace(kind), [kind]);
  const values = trace.modulators[kind];
  const both = values.some((value) => value < 0);
  return (
    <Stack as="article" gap="4" maxWidth="60rem">
      <Box>
        <HStack gap="3" align="baseline">
          <Heading as="h2" size="3xl">
            {title}
          </Heading>
          <Text color="copper">modulator</Text>
          <Text fontFamily="mono" fontSize="sm" color="faded">
            {kind}
          </Text>
        </HStack>
        <Text fontSize="lg">{summary}</Text>
      </Box>
      <Box borderWidth="1px" borderColor="rule" bg="paper" maxWidth={`${WIDTH}px`}>
        <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label={`${title} at default settings`}>
          <line
            x1="0"
            x2={WIDTH}
            y1={both ? HEIGHT / 2 : HEIGHT - 2}
            y2={both ? HEIGHT / 2 : HEIGHT - 2}
            stroke="var(--chakra-colors-rule)"
          />
          <path
            d={tracePath(values, WIDTH, HEIGHT, both)}
            fill="none"
            stroke="var(--chakra-colors-verdigris)"
            strokeWidth="1.6"
          />
        </svg>
        <Text fontSize="sm" fontStyle="italic" color="faded" px="2" pb="1">
          Over four seconds of a note struck every half second, at 120 bpm
        </Text>
      </Box>
      <Text>{facts.join(' ')}</Text>
      <Text color="faded">Keywords: {keywords.join(', ')}</Text>
      <Heading as="h3" size="lg" borderBottomWidth="1px" borderColor="rule">
        Parameters
      </Heading>
      <ParamTable params={params} />
    </Stack>
  );
}

function sampleTrace(kind: string): MovementTrace {
  const empty = emptyChain(BUILT_INS, 'Reference');
  const stage = newStage(BUILT_INS, empty, { kind: 'gain' });
  const added = addModulator(BUILT_INS, { ...empty, stages: [stage] }, kind);
  const chain = addRoute(BUILT_INS, added, added.modulators[0].id, 'gain.gain');
  const struck = Float32Array.from({ length: SECONDS * RATE }, (_, i) => {
    const since = i % (RATE / 2);
    return 0.5 * Math.exp(-since / 5400) * Math.sin(i * 0.04);
  });
  const process = traceMovement(
    BUILT_INS,
    planStages(BUILT_INS, chain, RATE),
    planModulators(chain, RATE),
    { sampleRate: RATE, origin: 0, channels: [struck] },
    { start: 0, end: struck.length },
  );
  for (;;) {
    const step = process.next();
    if (step.done) return step.value;
  }
}
