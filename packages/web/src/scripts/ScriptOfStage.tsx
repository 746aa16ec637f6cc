import { Button, HStack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { BUILT_INS } from '@hexenkessel/core/stages';
import type { StageDocument } from '@hexenkessel/core/chain';
import { problemOf, useCreateScriptMutation, useScriptsQuery } from '../api/api.ts';
import { useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { laterPart } from '../parts/laterPart.tsx';

const Update = laterPart(async () => (await import('./UpdateScript.tsx')).UpdateScript);

/** That a stage is written as text, where that is edited, and whether there is another text of it by now. */
export function ScriptOfStage({ stage }: { readonly stage: StageDocument }) {
  const navigate = useNavigate();
  const { data: kept = [] } = useScriptsQuery();
  const [createScript] = useCreateScriptMutation();
  const [asked, setAsked] = useState(false);
  const scripts = useAppSelector((state) => state.chain.present.document.scripts);
  const script = scripts.find(({ id }) => id === stage.script);
  if (!script) return null;
  const { title } = BUILT_INS.for({ scripts }).of(stage);
  const same = kept.find(({ text, from }) => text === script.text && from === 'own');
  const other = same ? undefined : kept.find((one) => one.title === title && one.text !== script.text);
  const open = async () => {
    if (same) return navigate(`/script/${same.id}`);
    const result = await createScript(script.text);
    if ('data' in result && result.data) return navigate(`/script/${result.data.id}`);
    return tellFailure('The script was not opened', problemOf(result.error).detail);
  };
  return (
    <HStack fontSize="sm" gap="2" wrap="wrap" data-script-of={stage.id}>
      <Text color="faded" flex="1">
        {other ? `There is another text of “${title}” by now.` : 'Written as text; the chain has it with it.'}
      </Text>
      {other && (
        <Button size="xs" variant="outline" borderColor="rule" onClick={() => setAsked(true)}>
          Compare and update …
        </Button>
      )}
      <Button size="xs" variant="outline" borderColor="rule" onClick={() => void open()}>
        Edit the text
      </Button>
      {asked && other && (
        <Update.Part script={script} title={title} text={other.text} onClose={() => setAsked(false)} />
      )}
    </HStack>
  );
}
