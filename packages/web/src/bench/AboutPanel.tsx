import { Field, Input, Stack, Textarea } from '@chakra-ui/react';
import { memo } from 'react';
import { type About, edits } from '@hexenkessel/core/chain';
import { useAppDispatch } from '../app/store.ts';
import { useShown } from '../chain/shownChain.ts';
import { edit } from '../chain/edit.ts';

const words = (text: string) =>
  text
    .split(',')
    .map((word) => word.trim())
    .filter(Boolean);

/** What the sheet and the Library say about the chain. */
export const AboutPanel = memo(function AboutPanel() {
  const dispatch = useAppDispatch();
  const about = useShown((chain) => chain.about);
  const change = (part: Partial<About>) => dispatch(edit(edits.changeAbout(part), `about ${Object.keys(part).join()}`));
  const quiet = (event: { stopPropagation: () => void }) => event.stopPropagation();
  const line = (label: string, key: 'summary' | 'kind' | 'author' | 'licence', hint: string) => (
    <Field.Root>
      <Field.Label fontSize="sm">{label}</Field.Label>
      <Input
        size="xs"
        placeholder={hint}
        value={about[key]}
        onKeyDown={quiet}
        onChange={(event) => change({ [key]: event.currentTarget.value })}
      />
    </Field.Root>
  );
  return (
    <Stack gap="3" height="100%" overflowY="auto" pr="1">
      {line('summary', 'summary', 'What it does, in a sentence')}
      {line('category', 'kind', 'swell, hall, voice …')}
      <Field.Root>
        <Field.Label fontSize="sm">character, tags (comma-separated)</Field.Label>
        <Input
          key={`c ${about.character.join()}`}
          size="xs"
          aria-label="character"
          defaultValue={about.character.join(', ')}
          placeholder="slow, wide"
          onKeyDown={quiet}
          onBlur={(event) => change({ character: words(event.currentTarget.value) })}
        />
        <Input
          key={`t ${about.tags.join()}`}
          size="xs"
          aria-label="tags"
          defaultValue={about.tags.join(', ')}
          placeholder="reverse, transition"
          onKeyDown={quiet}
          onBlur={(event) => change({ tags: words(event.currentTarget.value) })}
        />
      </Field.Root>
      <Field.Root flex="1" minHeight="140px">
        <Field.Label fontSize="sm">notes for the sheet (Markdown)</Field.Label>
        <Textarea
          flex="1"
          size="xs"
          resize="none"
          fontFamily="mono"
          value={about.notes}
          onKeyDown={quiet}
          onChange={(event) => change({ notes: event.currentTarget.value })}
        />
      </Field.Root>
      {line('author', 'author', 'Who made it')}
      {line('licence', 'licence', 'CC0-1.0, CC-BY-4.0 …')}
    </Stack>
  );
});
