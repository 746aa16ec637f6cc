import { Button, FileUpload } from '@chakra-ui/react';
import { InputError, LIMITS } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { parseChainText } from '@hexenkessel/core/chain';
import { problemOf, useCreateChainMutation } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';

/** Opens a chain file; what is wrong with one is told and nothing is stored. */
export function ImportChain({ onImported }: { onImported: (id: string) => void }) {
  const [createChain] = useCreateChainMutation();
  const take = async (file: File) => {
    try {
      if (file.size > LIMITS.chainBytes)
        throw new InputError(`It has ${file.size} bytes; at most ${LIMITS.chainBytes} (1 MiB) are allowed.`);
      const result = await createChain({ document: parseChainText(BUILT_INS, await file.text()) });
      if ('data' in result && result.data) onImported(result.data.id);
      else tellFailure(`${file.name} was not imported`, problemOf(result.error).detail);
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      tellFailure(`${file.name} was not imported`, error.message);
    }
  };
  return (
    <FileUpload.Root width="auto" accept={['.json']} onFileAccept={({ files }) => files[0] && void take(files[0])}>
      <FileUpload.HiddenInput aria-label="Chain file" />
      <FileUpload.Trigger asChild>
        <Button size="sm" variant="outline" borderColor="rule">
          Open a chain file
        </Button>
      </FileUpload.Trigger>
    </FileUpload.Root>
  );
}
