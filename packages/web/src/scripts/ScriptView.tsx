import { Box, Flex, Text } from '@chakra-ui/react';
import { useDropzone } from 'react-dropzone';
import { useNavigate, useParams } from 'react-router';
import { MOST_SCRIPT_BYTES } from '@hexenkessel/core/protocol';
import { learnScripts } from '@hexenkessel/core/script';
import { problemOf, useCreateScriptMutation } from '../api/api.ts';
import { tellFailure } from '../app/toaster.tsx';
import { usePageTitle } from '../parts/usePageTitle.ts';
import { ScriptDesk } from './ScriptDesk.tsx';
import { ScriptList } from './ScriptList.tsx';
import { underFreeTitle } from './titles.ts';
import { EXAMPLES, useScripts } from './useScripts.ts';

learnScripts();

/** Stages of one’s own: written as text, heard while typing. */
export function ScriptView() {
  const { id } = useParams();
  const navigate = useNavigate();
  const { scripts, isLoading } = useScripts();
  const [createScript] = useCreateScriptMutation();
  const shown =
    id === undefined
      ? (scripts.find(({ from }) => from === 'own') ?? EXAMPLES[0])
      : scripts.find((one) => one.id === id);
  const ownTitles = new Set(scripts.filter(({ from }) => from === 'own').map(({ title }) => title));
  usePageTitle(shown?.title, 'Script');
  const create = async (text: string) => {
    const result = await createScript(text);
    if ('data' in result && result.data) void navigate(`/script/${result.data.id}`);
    else tellFailure('The script was not kept', problemOf(result.error).detail);
  };
  const take = async (file: File) => {
    if (file.size > MOST_SCRIPT_BYTES)
      tellFailure(
        `${file.name} was not opened`,
        `It has ${file.size} bytes; at most ${MOST_SCRIPT_BYTES} are allowed.`,
      );
    else await create(await file.text());
  };
  const { getRootProps } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: ([file]) => file && void take(file),
  });
  return (
    <Flex height="100%" minHeight="0" direction={{ base: 'column', md: 'row' }} {...getRootProps()}>
      <ScriptList
        scripts={scripts}
        current={shown?.id}
        onNew={() => void create(underFreeTitle(EXAMPLES[0].text, 'New script', ownTitles))}
        onFile={(file) => void take(file)}
      />
      {shown ? (
        <ScriptDesk
          key={shown.id}
          script={shown}
          onCopy={(text) => void create(underFreeTitle(text, shown.title, ownTitles))}
        />
      ) : (
        <Box p="5">
          <Text>
            {isLoading ? 'Looking for it …' : 'There is no script here any more. The scripts are named on the left.'}
          </Text>
        </Box>
      )}
    </Flex>
  );
}
