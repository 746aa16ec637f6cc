import { Menu } from '@chakra-ui/react';
import { ClipboardCopy, Download, FileDown } from 'lucide-react';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { stageAsChain, type ChainDocument } from '@hexenkessel/core/chain';
import { useAppStore } from '../app/store.ts';
import { copyChain, downloadChain } from '../arriving/leaving.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { MainPortal } from '../parts/MainPortal.tsx';

/** The ways in which one stage leaves: alone, or with its lanes, its routes and its links to the panel. */
export function StageFile({ id, title }: { readonly id: string; readonly title: string }) {
  const store = useAppStore();
  const part = (withMovement: boolean): ChainDocument | undefined =>
    stageAsChain(BUILT_INS, store.getState().chain.present.document, id, withMovement);
  const copy = (withMovement: boolean) => {
    const found = part(withMovement);
    if (found) void copyChain(found, title);
  };
  const download = (withMovement: boolean) => {
    const found = part(withMovement);
    if (found) downloadChain(found);
  };
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <IconAction label="Stage as a file" size="2xs">
          <FileDown size={14} />
        </IconAction>
      </Menu.Trigger>
      <MainPortal>
        <Menu.Positioner>
          <Menu.Content bg="sheet">
            <Menu.Item value="copy" onClick={() => copy(false)}>
              <ClipboardCopy size={14} /> Copy the stage
            </Menu.Item>
            <Menu.Item value="copy-moved" onClick={() => copy(true)}>
              <ClipboardCopy size={14} /> Copy with lanes, routes and panel links
            </Menu.Item>
            <Menu.Item value="download" onClick={() => download(false)}>
              <Download size={14} /> Download the stage
            </Menu.Item>
            <Menu.Item value="download-moved" onClick={() => download(true)}>
              <Download size={14} /> Download with lanes, routes and panel links
            </Menu.Item>
          </Menu.Content>
        </Menu.Positioner>
      </MainPortal>
    </Menu.Root>
  );
}
