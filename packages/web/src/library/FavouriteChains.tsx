import { Button, Menu } from '@chakra-ui/react';
import { ChevronDown } from 'lucide-react';
import { useFavouriteChainsQuery } from '../api/api.ts';
import { MainPortal } from '../parts/MainPortal.tsx';

/** Milliseconds until it is looked again: files in a folder change by themselves. */
const LOOK_AGAIN = 3000;

interface Props {
  readonly onTake: (name: string, text: string) => void;
}

/** Chains in the folder of favourites, each opened as a new chain; nothing where there are none. */
export function FavouriteChains({ onTake }: Props) {
  const { data = [] } = useFavouriteChainsQuery(undefined, { pollingInterval: LOOK_AGAIN });
  if (data.length === 0) return null;
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <Button size="sm" variant="outline" borderColor="rule">
          Favourites <ChevronDown size={14} />
        </Button>
      </Menu.Trigger>
      <MainPortal>
        <Menu.Positioner>
          <Menu.Content bg="sheet" maxHeight="60vh" overflowY="auto">
            {data.map(({ name, text }) => (
              <Menu.Item key={name} value={name} onClick={() => onTake(name, text)}>
                {name}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </MainPortal>
    </Menu.Root>
  );
}
