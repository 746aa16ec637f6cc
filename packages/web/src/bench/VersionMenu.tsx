import { Button, Menu, Text } from '@chakra-ui/react';
import { edits } from '@hexenkessel/core/chain';
import { MainPortal } from '../parts/MainPortal.tsx';
import { History } from 'lucide-react';
import { problemOf, useLazyVersionQuery } from '../api/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellFailure } from '../app/toaster.tsx';
import { listeningSet } from '../chain/playbackSlice.ts';
import { edit } from '../chain/edit.ts';

/** The kept versions; taking one up again is a step like any other and can be undone. */
export function VersionMenu() {
  const dispatch = useAppDispatch();
  const { chainId, versions } = useAppSelector((state) => state.server);
  const [fetchVersion] = useLazyVersionQuery();
  const open = async (number: number) => {
    if (chainId === null) return;
    const result = await fetchVersion({ id: chainId, number });
    if (result.data) {
      const { data } = result;
      dispatch(edit(edits.replaceChain(`restore version ${number}`, data)));
    } else tellFailure(`Version ${number} could not be opened`, problemOf(result.error).detail);
  };
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <Button size="xs" variant="outline" borderColor="rule" disabled={versions.length === 0}>
          <History size={14} /> Versions
        </Button>
      </Menu.Trigger>
      <MainPortal>
        <Menu.Positioner>
          <Menu.Content bg="sheet" maxHeight="min(60vh, var(--available-height))">
            {versions.map(({ number, why, createdAt }) => (
              <Menu.ItemGroup key={number}>
                <Menu.ItemGroupLabel>
                  <Text fontWeight="600">Version {number}</Text>
                  <Text fontSize="xs" color="faded">
                    {why || 'no note'} · {new Date(createdAt).toLocaleString()}
                  </Text>
                </Menu.ItemGroupLabel>
                <Menu.Item
                  value={`hear ${number}`}
                  onClick={() => dispatch(listeningSet(`version-${number}`))}
                  aria-label={`Audition version ${number}`}
                >
                  Audition
                </Menu.Item>
                <Menu.Item
                  value={`take ${number}`}
                  onClick={() => void open(number)}
                  aria-label={`Restore version ${number}`}
                >
                  Restore
                </Menu.Item>
              </Menu.ItemGroup>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </MainPortal>
    </Menu.Root>
  );
}
