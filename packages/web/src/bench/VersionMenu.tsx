import { Button, Menu, Portal, Stack, Text } from '@chakra-ui/react';
import { History } from 'lucide-react';
import { problemOf, useLazyVersionQuery } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { edit } from '../chain/edit.ts';

/** The kept versions; taking one up again is a step like any other and can be undone. */
export function VersionMenu() {
  const dispatch = useAppDispatch();
  const { chainId, versions } = useAppSelector((state) => state.bench);
  const [fetchVersion] = useLazyVersionQuery();
  const open = async (number: number) => {
    if (chainId === null) return;
    const result = await fetchVersion({ id: chainId, number });
    if (result.data) {
      const { data } = result;
      dispatch(edit(`take up version ${number}`, () => data));
    } else tellFailure(`Version ${number} could not be opened`, problemOf(result.error).detail);
  };
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <Button size="xs" variant="outline" borderColor="rule" disabled={versions.length === 0}>
          <History size={14} /> Versions
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content bg="sheet" maxHeight="60vh">
            {versions.map(({ number, why, createdAt }) => (
              <Menu.Item key={number} value={String(number)} onClick={() => void open(number)}>
                <Stack gap="0">
                  <Text fontWeight="600">Version {number}</Text>
                  <Text fontSize="xs" color="faded">
                    {why || 'no reason given'} · {new Date(createdAt).toLocaleString()}
                  </Text>
                </Stack>
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
