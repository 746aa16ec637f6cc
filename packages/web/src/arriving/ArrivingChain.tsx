import { Button, Field, Text, Textarea } from '@chakra-ui/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { InputError } from '@hexenkessel/core/model';
import { BUILT_INS } from '@hexenkessel/core/stages';
import { allStages, parseChainText, type ChainDocument } from '@hexenkessel/core/chain';
import { useSoundNamesQuery } from '../api/api.ts';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { readyFor } from '../scripts/readyFor.ts';
import { MissingSounds, missingSounds, withChosen } from './MissingSounds.tsx';

/** What is done with a chain that has come, and what that is called. */
export interface Taking {
  readonly label: string;
  readonly take: (document: ChainDocument) => void;
}

interface Props {
  readonly title: string;
  /** The chain, where it has been read already; else its text is asked for. */
  readonly arrived?: ChainDocument | undefined;
  readonly ways: readonly Taking[];
  readonly onClose: () => void;
}

/** A chain on its way in, as text or from a file: what is wrong with it, what it is, and which of its sounds are not here. */
export function ArrivingChain({ title, arrived, ways, onClose }: Props) {
  const sounds = useSoundNamesQuery().data ?? [];
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState<Readonly<Record<string, string>>>({});
  const field = useRef<HTMLTextAreaElement>(null);
  // A text that brings scripts is read once what reads them is there.
  const [readable, setReadable] = useState('');
  useEffect(() => {
    let left = false;
    void readyFor(text).then(() => {
      if (!left) setReadable(text);
    });
    return () => void (left = true);
  }, [text]);
  const { document, fault } = useMemo(
    () => (arrived ? { document: arrived, fault: '' } : read(readable)),
    [arrived, readable],
  );
  const missing = document ? missingSounds(document, sounds) : [];
  const take = (way: Taking) => {
    if (!document) return;
    way.take(withChosen(document, sounds, chosen));
    onClose();
  };
  return (
    <PlainDialog
      title={title}
      size="lg"
      {...(arrived ? {} : { firstFocus: () => field.current })}
      onClose={onClose}
      footer={ways.map((way, n) => (
        <Button
          key={way.label}
          size="sm"
          {...(n === 0 ? { colorPalette: 'copperInk' } : { variant: 'outline', borderColor: 'rule' })}
          disabled={!document}
          onClick={() => take(way)}
        >
          {way.label}
        </Button>
      ))}
    >
      {!arrived && (
        <Field.Root invalid={fault !== ''}>
          <Field.Label>Chain as text</Field.Label>
          <Textarea
            ref={field}
            rows={8}
            fontFamily="mono"
            fontSize="xs"
            placeholder='{ "format": "hexenkessel.chain", … }'
            value={text}
            onChange={(event) => setText(event.currentTarget.value)}
          />
          <Field.ErrorText role="alert" overflowWrap="anywhere">
            {fault}
          </Field.ErrorText>
        </Field.Root>
      )}
      {document && (
        <Text mt={arrived ? '0' : '2'} role="status">
          {contentsOf(document)}
        </Text>
      )}
      <MissingSounds
        missing={missing}
        sounds={sounds}
        chosen={chosen}
        onChoose={(key, id) => setChosen({ ...chosen, [key]: id })}
      />
    </PlainDialog>
  );
}

function read(text: string): { readonly document?: ChainDocument; readonly fault: string } {
  if (text.trim() === '') return { fault: '' };
  try {
    return { document: parseChainText(BUILT_INS, text), fault: '' };
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    return { fault: error.message };
  }
}

const counted = (count: number, one: string, more = `${one}s`) =>
  count === 0 ? [] : [`${count} ${count === 1 ? one : more}`];

function contentsOf({ name, stages, lanes, modulators, panel, scripts }: ChainDocument): string {
  const parts = [
    ...counted(allStages(stages).length, 'stage'),
    ...counted(modulators.length, 'modulator'),
    ...counted(lanes.length, 'lane'),
    ...counted(panel.length, 'control'),
  ];
  const brings = scripts.length > 0 ? ` It brings ${counted(scripts.length, 'script')[0]}.` : '';
  return `“${name}”: ${parts.join(', ') || 'no stages'}.${brings}`;
}
