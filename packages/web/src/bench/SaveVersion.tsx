import { Button, Field, Input } from '@chakra-ui/react';
import { Save } from 'lucide-react';
import { useRef, useState } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellDone } from '../app/toaster.tsx';
import { isUnnamed, suggestedName } from '../chain/newChain.ts';
import { useShownSound } from '../chain/shownChain.ts';
import { dialogSet } from '../chain/viewSlice.ts';
import { keepVersion } from '../chain/useChainWork.ts';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { nameChain } from './NameChain.tsx';

/** Saves a version for good, with a note on why. */
export function SaveVersion() {
  const sound = useShownSound();
  const open = useAppSelector((state) => state.view.dialog === 'save');
  const dispatch = useAppDispatch();
  const onOpenChange = (next: boolean) => dispatch(dialogSet(next ? 'save' : null));
  const [why, setWhy] = useState('');
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const number = (useAppSelector((state) => state.server.versions[0]?.number) ?? 0) + 1;
  const [named, setNamed] = useState<string>();
  const unnamed = useAppSelector(({ chain }) => isUnnamed(chain.present.document));
  const given = useAppSelector(({ chain: { present } }) =>
    isUnnamed(present.document) ? suggestedName(present.document) : present.document.name,
  );
  const name = unnamed ? (named ?? given).trim() : given;
  const save = async () => {
    if (name === '' || (unnamed && !dispatch(nameChain(name, sound)))) return;
    setBusy(true);
    const done = await dispatch(keepVersion(why.trim()));
    setBusy(false);
    onOpenChange(false);
    if (!done) return;
    setWhy('');
    tellDone(`Version ${number} is saved`, `${name} can be found in the Library.`);
  };
  return (
    <>
      <Button size="xs" colorPalette="copperInk" aria-keyshortcuts="Control+S" onClick={() => onOpenChange(true)}>
        <Save size={14} /> Save version
      </Button>
      {open && (
        <PlainDialog
          title={`Save version ${number}`}
          firstFocus={() => input.current}
          onSubmit={() => void save()}
          onClose={() => onOpenChange(false)}
          footer={
            <Button type="submit" colorPalette="copperInk" loading={busy}>
              Save
            </Button>
          }
        >
          {unnamed && (
            <Field.Root mb="3">
              <Field.Label>Name of the new chain</Field.Label>
              <Input value={named ?? name} maxLength={80} onChange={(event) => setNamed(event.currentTarget.value)} />
            </Field.Root>
          )}
          <Field.Root>
            <Field.Label>Version note</Field.Label>
            <Input
              ref={input}
              value={why}
              maxLength={300}
              placeholder="Darker, for the stair hall"
              onChange={(event) => setWhy(event.currentTarget.value)}
            />
            <Field.HelperText>A version stays for good; renders name the one that made them.</Field.HelperText>
          </Field.Root>
        </PlainDialog>
      )}
    </>
  );
}
