import { Button, Stack, Text } from '@chakra-ui/react';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { fileNameFor } from '@hexenkessel/core/formats';
import type { Sound } from '@hexenkessel/core/protocol';
import { zipUrl } from '../api/api.ts';
import { TypedValue } from '../parameters/TypedValue.tsx';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { ClippedText, FIRST_WRITING, WritingChoice, writingQuery } from './WriteSound.tsx';

/** Writes several sounds into one ZIP file, named by a template. */
export function ExportSounds({ sounds, onClose }: { readonly sounds: readonly Sound[]; readonly onClose: () => void }) {
  const [writing, setWriting] = useState(FIRST_WRITING);
  const [template, setTemplate] = useState('{sound}');
  const there = sounds.filter(({ missing }) => !missing);
  const names = namesOf(template, there, writing.kind);
  return (
    <PlainDialog
      title={`Export ${there.length} ${there.length === 1 ? 'sound' : 'sounds'}`}
      onClose={onClose}
      footer={
        <Button asChild size="sm" colorPalette="copperInk">
          <a
            href={zipUrl(
              there.map(({ id }) => id),
              { ...writingQuery(writing), template },
            )}
            download="hexenkessel-sounds.zip"
            onClick={onClose}
          >
            <Download size={14} /> Download ZIP
          </a>
        </Button>
      }
    >
      <Stack gap="3" fontSize="sm">
        <WritingChoice value={writing} onChange={setWriting} />
        <ClippedText sounds={there} writing={writing} />
        <TypedValue
          label="Names of the files"
          borderColor="rule"
          text={template}
          onCommit={(text) => {
            namesOf(text, there, writing.kind);
            setTemplate(text);
          }}
        />
        <Text fontSize="xs" color="faded">
          {'{sound} {source} {chain} {version} {rate} {number}'} are filled in.{' '}
          {sounds.length > there.length && 'What is missing on disk is left out.'}
        </Text>
        <Stack gap="0" fontFamily="mono" fontSize="xs" maxHeight="30vh" overflowY="auto">
          {names.map((name) => (
            <span key={name}>{name}</span>
          ))}
        </Stack>
      </Stack>
    </PlainDialog>
  );
}

function namesOf(template: string, sounds: readonly Sound[], kind: string): string[] {
  const taken = new Set<string>();
  return sounds.map((sound, n) => fileNameFor(template, sound, n + 1, kind, taken));
}
