import { Button } from '@chakra-ui/react';
import { useState } from 'react';
import { InputError, LIMITS } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { parseChainText, type ChainDocument } from '@hexenkessel/core/chain';
import { problemOf, useCreateChainMutation, useSoundNamesQuery } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';
import { ArrivingChain } from '../arriving/ArrivingChain.tsx';
import { missingSounds } from '../arriving/MissingSounds.tsx';
import { usePaste } from '../arriving/usePaste.ts';
import { readyFor } from '../scripts/readyFor.ts';
import { tellScripts } from '../scripts/tellScripts.ts';
import { FavouriteChains } from './FavouriteChains.tsx';
import { useFilePick } from '../parts/useFilePick.tsx';

/** Chains come in, from a file or as text; what is wrong with one is told and nothing is stored. */
export function ImportChain({ onImported }: { onImported: (id: string) => void }) {
  const [createChain] = useCreateChainMutation();
  const sounds = useSoundNamesQuery().data;
  const [asked, setAsked] = useState<'text' | ChainDocument>();
  const create = async (document: ChainDocument) => {
    const result = await createChain({ document });
    if ('data' in result && result.data) {
      tellScripts(document);
      onImported(result.data.id);
    } else tellFailure(`${document.name} was not imported`, problemOf(result.error).detail);
  };
  const take = async (name: string, bytes: number, read: () => Promise<string>) => {
    try {
      if (bytes > LIMITS.chainBytes)
        throw new InputError(`It has ${bytes} bytes; at most ${LIMITS.chainBytes} (1 MiB) are allowed.`);
      const text = await read();
      await readyFor(text);
      const document = parseChainText(BUILT_INS, text);
      // Only where there is something to be chosen one is asked.
      if (sounds && missingSounds(document, sounds).length > 0) setAsked(document);
      else await create(document);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      tellFailure(`${name} was not imported`, error.message);
    }
  };
  const pick = useFilePick('Chain file', ['.json'], (file) => void take(file.name, file.size, () => file.text()));
  usePaste((text) => void take('The pasted chain', 0, () => Promise.resolve(text)));
  return (
    <>
      {pick.input}
      <Button size="sm" variant="outline" borderColor="rule" onClick={pick.open}>
        Open a chain file
      </Button>
      <FavouriteChains onTake={(name, text) => void take(name, 0, () => Promise.resolve(text))} />
      <Button size="sm" variant="outline" borderColor="rule" onClick={() => setAsked('text')}>
        Paste a chain
      </Button>
      {asked !== undefined && (
        <ArrivingChain
          title={asked === 'text' ? 'Paste a chain' : `Open ${asked.name}`}
          arrived={asked === 'text' ? undefined : asked}
          ways={[{ label: 'Open as a new chain', take: (document) => void create(document) }]}
          onClose={() => setAsked(undefined)}
        />
      )}
    </>
  );
}
