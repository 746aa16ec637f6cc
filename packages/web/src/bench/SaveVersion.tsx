import { Button, Field, Input } from '@chakra-ui/react';
import { Save } from 'lucide-react';
import { useRef, useState } from 'react';
import type { Sound } from '@hexenkessel/core/protocol';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tellDone } from '../app/toaster.tsx';
import { isUnnamed, suggestedName } from '../chain/newChain.ts';
import { keepVersion } from '../chain/useChainWork.ts';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { nameChain } from './NameChain.tsx';

interface Props {
  /** What the chain is heard on. */
  readonly sound: Sound | undefined;
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
}

/** Saves a version for good, with a note on why. */
export function SaveVersion({ sound, open, onOpenChange }: Props) {
  const dispatch = useAppDispatch();
  const [why, setWhy] = useState('');
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const number = (useAppSelector((state) => state.bench.versions[0]?.number) ?? 0) + 1;
  const document = useAppSelector((state) => state.chain.present.document);
  const [named, setNamed] = useState<string>();
  const unnamed = isUnnamed(document);
  const name = unnamed ? (named ?? suggestedName(document)).trim() : document.name;
  const save = async () => {
    if (name === '' || (unnamed && sound && !dispatch(nameChain(name, sound)))) return;
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
