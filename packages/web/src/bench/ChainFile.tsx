import { FileDown } from 'lucide-react';
import { useEffect, useState } from 'react';
import { isFirstDone, useRendered } from '../cascade/useRenderer.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { laterPart } from '../parts/laterPart.tsx';

/** Milliseconds behind what the Bench needs. */
const BEHIND = 300;

const ChainFileMenu = laterPart(
  async () => (await import('./ChainFileMenu.tsx')).ChainFileMenu,
  <IconAction label="Chain as a file">
    <FileDown size={16} />
  </IconAction>,
);

/** The chain as a file: its menu comes once the Bench can be used, or when it is asked for. */
export function ChainFile() {
  const first = useRendered(isFirstDone);
  const [shown, setShown] = useState(false);
  const [opened, setOpened] = useState(false);
  useEffect(() => {
    if (!first) return undefined;
    const timer = setTimeout(() => setShown(true), BEHIND);
    return () => clearTimeout(timer);
  }, [first]);
  if (shown) return <ChainFileMenu.Part opened={opened} />;
  return (
    <IconAction
      label="Chain as a file"
      onClick={() => {
        setOpened(true);
        setShown(true);
      }}
    >
      <FileDown size={16} />
    </IconAction>
  );
}
