import { Button, Field, Input } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useRef, useState } from 'react';
import { useForm } from 'react-hook-form';
import * as z from 'zod';
import { useAppDispatch, useAppSelector, useAppStore } from '../app/store.ts';
import { tellDone } from '../app/toaster.tsx';
import { isUnnamed, suggestedName } from '../chain/newChain.ts';
import { useShownSound } from '../chain/shownChain.ts';
import { keepVersion } from '../chain/useChainWork.ts';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { nameChain } from './NameChain.tsx';

/** As the chain document and the server's route allow them. */
const answers = z.object({
  name: z.string().trim().min(1, 'A chain needs a name.').max(80, 'At most 80 characters.'),
  why: z.string().trim().max(300, 'At most 300 characters.'),
});

/** Asks for the note of a version, and for the name of a chain that has none yet. */
export function SaveVersionDialog({ onClose }: { readonly onClose: () => void }) {
  const sound = useShownSound();
  const dispatch = useAppDispatch();
  const store = useAppStore();
  const number = (useAppSelector((state) => state.server.versions[0]?.number) ?? 0) + 1;
  const unnamed = useAppSelector(({ chain }) => isUnnamed(chain.present.document));
  const [given] = useState(() => {
    const { document } = store.getState().chain.present;
    return { name: isUnnamed(document) ? suggestedName(document) : document.name, why: '' };
  });
  const { register, handleSubmit, formState } = useForm({
    resolver: zodResolver(answers),
    defaultValues: given,
  });
  const why = register('why');
  const first = useRef<HTMLInputElement>(null);
  const save = async ({ name, why: note }: z.output<typeof answers>) => {
    if (unnamed && !dispatch(nameChain(name, sound))) return;
    const done = await dispatch(keepVersion(note));
    onClose();
    if (done) tellDone(`Version ${number} is saved`, `${name} can be found in the Library.`);
  };
  return (
    <PlainDialog
      title={`Save version ${number}`}
      firstFocus={() => first.current}
      onSubmit={() => void handleSubmit(save)()}
      onClose={onClose}
      footer={
        <Button type="submit" colorPalette="copperInk" loading={formState.isSubmitting}>
          Save
        </Button>
      }
    >
      {unnamed && (
        <Field.Root mb="3" invalid={formState.errors.name !== undefined}>
          <Field.Label>Name of the new chain</Field.Label>
          <Input maxLength={80} {...register('name')} />
          <Field.ErrorText>{formState.errors.name?.message}</Field.ErrorText>
        </Field.Root>
      )}
      <Field.Root invalid={formState.errors.why !== undefined}>
        <Field.Label>Version note</Field.Label>
        <Input
          maxLength={300}
          placeholder="Darker, for the stair hall"
          {...why}
          ref={(input) => {
            why.ref(input);
            first.current = input;
          }}
        />
        <Field.ErrorText>{formState.errors.why?.message}</Field.ErrorText>
        <Field.HelperText>A version stays for good; renders name the one that made them.</Field.HelperText>
      </Field.Root>
    </PlainDialog>
  );
}
