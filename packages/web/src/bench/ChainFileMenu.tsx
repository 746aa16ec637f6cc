import { Menu } from '@chakra-ui/react';
import { ClipboardCopy, ClipboardPaste, Download, FileDown } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { parseChainText, type ChainDocument } from '@hexenkessel/core/chain';
import { problemOf, useCreateChainMutation, useSoundNamesQuery } from '../api/api.ts';
import { useAppStore } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { copyChain, downloadChain } from '../arriving/leaving.ts';
import { missingSounds } from '../arriving/MissingSounds.tsx';
import { usePaste } from '../arriving/usePaste.ts';
import { useTakeStages } from '../arriving/useTakeStages.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { laterPart } from '../parts/laterPart.tsx';
import { MainPortal } from '../parts/MainPortal.tsx';
import { readyFor } from '../scripts/readyFor.ts';

const ArrivingChain = laterPart(async () => (await import('../arriving/ArrivingChain.tsx')).ArrivingChain);

/** The ways in which a chain leaves, as a file or as text, and in which stages of another come in. */
export function ChainFileMenu({ opened }: { readonly opened: boolean }) {
  const store = useAppStore();
  const navigate = useNavigate();
  const sounds = useSoundNamesQuery().data;
  const [createChain] = useCreateChainMutation();
  const takeStages = useTakeStages();
  const [asked, setAsked] = useState<'text' | ChainDocument>();
  const chain = () => store.getState().chain.present.document;
  const openNew = async (document: ChainDocument) => {
    const result = await createChain({ document });
    if ('data' in result && result.data) void navigate(`/bench/${result.data.id}`);
    else tellFailure(`${document.name} was not opened`, problemOf(result.error).detail);
  };
  const paste = async (text: string) => {
    try {
      await readyFor(text);
      const part = parseChainText(BUILT_INS, text);
      if (sounds && missingSounds(part, sounds).length > 0) setAsked(part);
      else takeStages(part);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      tellFailure('Not pasted', error.message);
    }
  };
  usePaste((text) => void paste(text));
  return (
    <>
      <Menu.Root defaultOpen={opened}>
        <Menu.Trigger asChild>
          <IconAction label="Chain as a file">
            <FileDown size={16} />
          </IconAction>
        </Menu.Trigger>
        <MainPortal>
          <Menu.Positioner>
            <Menu.Content bg="sheet">
              <Menu.Item value="download" onClick={() => downloadChain(chain())}>
                <Download size={14} /> Download chain file
              </Menu.Item>
              <Menu.Item value="copy" onClick={() => void copyChain(chain(), 'The chain')}>
                <ClipboardCopy size={14} /> Copy as text
              </Menu.Item>
              <Menu.Item value="paste" onClick={() => setAsked('text')}>
                <ClipboardPaste size={14} /> Paste stages …
              </Menu.Item>
            </Menu.Content>
          </Menu.Positioner>
        </MainPortal>
      </Menu.Root>
      {asked !== undefined && (
        <ArrivingChain.Part
          title={asked === 'text' ? 'Paste stages' : `Paste ${asked.name}`}
          arrived={asked === 'text' ? undefined : asked}
          ways={[
            { label: 'Put in behind the selected stage', take: takeStages },
            { label: 'Open as a new chain', take: (document) => void openNew(document) },
          ]}
          onClose={() => setAsked(undefined)}
        />
      )}
    </>
  );
}
