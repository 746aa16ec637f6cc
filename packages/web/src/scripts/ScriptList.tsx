import { Box, Button, Heading, Stack, Text } from '@chakra-ui/react';
import { FilePlus2, FolderOpen } from 'lucide-react';
import { EntryLink } from '../parts/EntryLink.tsx';
import { useFilePick } from '../parts/useFilePick.tsx';
import type { OpenScript } from './useScripts.ts';

interface Props {
  readonly scripts: readonly OpenScript[];
  readonly current: string | undefined;
  readonly onNew: () => void;
  readonly onFile: (file: File) => void;
}

const GROUPS = [
  ['own', 'your own'],
  ['favourites', 'favourites'],
  ['examples', 'examples'],
] as const;

/** All scripts that can be opened, and the ways to a new one. */
export function ScriptList({ scripts, current, onNew, onFile }: Props) {
  const pick = useFilePick('Script file', ['.js'], onFile);
  return (
    <Stack
      width={{ base: '100%', md: '212px' }}
      maxHeight={{ base: '30vh', md: 'none' }}
      flexShrink={0}
      borderRightWidth={{ base: '0', md: '1px' }}
      borderBottomWidth={{ base: '1px', md: '0' }}
      borderColor="rule"
      px="3"
      py="3"
      gap="2"
      minHeight="0"
    >
      <Heading as="h1" size="2xl">
        Script
      </Heading>
      {pick.input}
      <Button size="sm" colorPalette="copperInk" onClick={onNew}>
        <FilePlus2 size={15} /> New script
      </Button>
      <Button size="sm" variant="outline" borderColor="rule" onClick={pick.open}>
        <FolderOpen size={15} /> Open a script file
      </Button>
      <Box as="nav" aria-label="Scripts" overflowY="auto" flex="1" minHeight="0">
        {GROUPS.map(([from, title]) => {
          const found = scripts.filter((one) => one.from === from);
          return found.length === 0 ? null : (
            <Box key={from} mb="3">
              <Text fontSize="sm" color="copper">
                {title}
              </Text>
              {found.map(({ id, title: name }) => (
                <EntryLink key={id} to={`/script/${id}`} title={name} current={id === current} />
              ))}
            </Box>
          );
        })}
      </Box>
    </Stack>
  );
}
