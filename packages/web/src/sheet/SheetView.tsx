import { Box, Button, Flex, HStack, Text } from '@chakra-ui/react';
import { Download, Printer } from 'lucide-react';
import { useMemo } from 'react';
import { Link as RouterLink, useParams, useSearchParams } from 'react-router';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { type ChainDocument } from '@hexenkessel/core/chain';
import { sheetOf, sheetRows, type SheetRow } from '@hexenkessel/core/sheet';
import { useChainQuery, useSoundNamesQuery } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';
import type { Outline } from '@hexenkessel/core/analysis';
import type { CascadeState } from '../cascade/chainRenderer.ts';
import { useRenderOf } from '../cascade/useRenderer.ts';
import { Choice } from '../parts/Choice.tsx';
import { useSavesSettled } from '../chain/useChainWork.ts';
import { useSoundById } from '../sounds/useSounds.ts';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { QueryState } from '../parts/QueryState.tsx';
import { saveHtml, saveMarkdown } from './exportSheet.ts';
import { SheetPage } from './SheetPage.tsx';

/** The documentation of a chain, as its readers will see it, and its export. */
export function SheetView() {
  const { id = '' } = useParams();
  const settled = useSavesSettled(id);
  const chain = useChainQuery(id, { refetchOnMountOrArgChange: true, skip: !settled });
  return (
    <QueryState query={chain} what="the chain">
      {({ document, versions, unsaved }) => (
        <LoadedSheet
          id={id}
          document={document}
          version={versions[0] ? `${versions[0].number}${unsaved ? ', changed since' : ''}` : 'not saved yet'}
        />
      )}
    </QueryState>
  );
}

function LoadedSheet({ id, document, version }: { id: string; document: ChainDocument; version: string }) {
  usePageTitle(document.name, 'Sheet');
  const [search, setSearch] = useSearchParams();
  const sounds = useSoundNamesQuery();
  const named =
    sounds.data?.find((candidate) => candidate.id === search.get('sound')) ??
    sounds.data?.find(({ kind }) => kind === 'source');
  const { sound } = useSoundById(named?.id);
  const { state: cascade } = useRenderOf(sound, document);
  const sheet = useMemo(() => {
    const rows = cascade.busy ? [] : rowsOf(document, cascade);
    return sheetOf(BUILT_INS, document, rows, { sampleRate: cascade.sampleRate, version });
  }, [document, cascade, version]);
  return (
    <Flex direction="column" height="100%" minHeight="0" data-print="whole">
      <HStack
        px={{ base: '3', md: '6' }}
        py="1"
        minHeight="48px"
        borderBottomWidth="1px"
        borderColor="ink"
        flexShrink={0}
        columnGap="4"
        wrap="wrap"
        data-print="never"
      >
        <Button asChild size="xs" variant="outline" borderColor="rule">
          <RouterLink to={`/bench/${id}${sound ? `?sound=${sound.id}` : ''}`}>To the Bench</RouterLink>
        </Button>
        <HStack>
          <Text color="faded">shown on</Text>
          <Choice
            label="Sound shown"
            value={sound?.id ?? ''}
            options={(sounds.data ?? []).map((candidate) => [candidate.id, candidate.name] as const)}
            onChange={(next) => setSearch((before) => (before.set('sound', next), before), { replace: true })}
            width="220px"
          />
        </HStack>
        <Flex flex="1" />
        <Button size="xs" variant="outline" borderColor="rule" disabled={cascade.busy} onClick={() => window.print()}>
          <Printer size={14} /> Print
        </Button>
        <Button
          size="xs"
          variant="outline"
          borderColor="rule"
          disabled={cascade.busy}
          onClick={() => saveMarkdown(sheet)}
        >
          <Download size={14} /> Markdown and picture
        </Button>
        <Button
          size="xs"
          variant="outline"
          borderColor="rule"
          disabled={cascade.busy}
          onClick={() =>
            void saveHtml(sheet).catch(() =>
              tellFailure('Not exported', 'The fonts did not come: does the server answer?'),
            )
          }
        >
          <Download size={14} /> HTML, one file
        </Button>
      </HStack>
      <Box flex="1" minHeight="0" overflowY="auto" tabIndex={0} role="region" aria-label="Sheet" data-print="whole">
        <SheetPage sheet={sheet} />
      </Box>
    </Flex>
  );
}

/** The Cascade's rows, brought to one ruler. */
function rowsOf(document: ChainDocument, { rows, sampleRate, sourceFrames }: CascadeState): SheetRow[] {
  const { source, result } = rows;
  if (!source || !result) return [];
  const after = new Map<number, Outline>();
  document.stages.forEach(({ id, on }, index) => {
    const row = rows[`stage:${id}`];
    if (on && row) after.set(index, row);
  });
  return sheetRows(BUILT_INS, document, { sampleRate, frames: sourceFrames }, { source, after, result });
}
