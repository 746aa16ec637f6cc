import { Menu } from '@chakra-ui/react';
import { ClipboardCopy, Download, FileDown } from 'lucide-react';
import { useAppStore } from '../app/store.ts';
import { tellDone, tellFailure } from '../app/toaster.tsx';
import { saveFile } from '../files/saveFile.ts';
import { IconAction } from '../parts/IconAction.tsx';
import { MainPortal } from '../parts/MainPortal.tsx';

/** The ways in which a chain leaves: as a file, or as text to be pasted somewhere. */
export function ChainFile() {
  const store = useAppStore();
  const chain = () => store.getState().chain.present.document;
  const text = () => `${JSON.stringify(chain(), null, 2)}\n`;
  const copy = () =>
    navigator.clipboard.writeText(text()).then(
      () => tellDone('Copied', 'The chain is on the clipboard as text, as it would be in a file.'),
      () => tellFailure('Not copied', 'The browser does not let the clipboard be written; download the file instead.'),
    );
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <IconAction label="Chain as a file">
          <FileDown size={16} />
        </IconAction>
      </Menu.Trigger>
      <MainPortal>
        <Menu.Positioner>
          <Menu.Content bg="sheet">
            <Menu.Item
              value="download"
              onClick={() => saveFile(`${chain().name}.hxk.json`, text(), 'application/json')}
            >
              <Download size={14} /> Download chain file
            </Menu.Item>
            <Menu.Item value="copy" onClick={() => void copy()}>
              <ClipboardCopy size={14} /> Copy as text
            </Menu.Item>
          </Menu.Content>
        </Menu.Positioner>
      </MainPortal>
    </Menu.Root>
  );
}
