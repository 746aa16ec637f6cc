import { Box, Button, HStack, Link, Progress, Text } from '@chakra-ui/react';
import { Download, Pencil, X } from 'lucide-react';
import { useState } from 'react';
import { WAV_DEPTHS, showOffset, type WavDepth } from '@hexenkessel/core/formats';
import { Link as RouterLink } from 'react-router';
import type { Render, Sound } from '@hexenkessel/core/protocol';
import { audioUrl, problemOf, useCancelRenderMutation, useChangeSoundMutation } from '../api/api.ts';
import { isOver } from '../api/knownRenders.ts';
import { tellFailure } from '../app/toaster.tsx';
import { Choice } from '../parts/Choice.tsx';
import { IconAction } from '../parts/IconAction.tsx';
import { NameDialog } from '../parts/NameDialog.tsx';
import { PlainDialog } from '../parts/PlainDialog.tsx';
import { DeleteSound } from './DeleteSound.tsx';
import { PlaySound } from './PlaySound.tsx';
import { dragOut } from './dragOut.ts';
import { coveredText } from './coveredText.ts';

interface Props {
  readonly render: Render;
  /** The sound that has come out, when it is known. */
  readonly made?: Sound | undefined;
  /** Frames a second of the source, when that is known. */
  readonly sourceRate?: number | undefined;
  readonly onPlay?: () => void;
}

/** One render: how far it is, how to stop it, and its file. */
export function RenderEntry({ render, made, sourceRate, onPlay }: Props) {
  const [cancel, cancelling] = useCancelRenderMutation();
  const over = isOver(render);
  return (
    <Box py="2" borderBottomWidth="1px" borderColor="rule" data-render={render.status}>
      {made ? (
        <MadeSound sound={made} onPlay={onPlay} />
      ) : (
        <Text fontWeight="600" fontSize="sm" truncate title={render.name}>
          {render.name}
        </Text>
      )}
      <Text fontSize="xs" color="faded">
        {render.region && sourceRate !== undefined ? `region ${coveredText(render.region, sourceRate)}` : 'whole sound'}{' '}
        · {render.version} · {statusText(render)}
        {made && ` · begins ${showOffset(made)} from the source`}
      </Text>
      {render.gaveUp.map((text) => (
        <Text key={text} fontSize="xs" color="alarm">
          {text}
        </Text>
      ))}
      {!over && (
        <HStack>
          <Progress.Root
            value={render.progress * 100}
            size="xs"
            flex="1"
            colorPalette="copperInk"
            aria-label={`Progress of ${render.name}`}
          >
            <Progress.Track>
              <Progress.Range />
            </Progress.Track>
          </Progress.Root>
          <Button
            size="2xs"
            variant="outline"
            loading={cancelling.isLoading}
            onClick={async () => {
              const result = await cancel(render.id);
              if ('error' in result) tellFailure('Not cancelled', problemOf(result.error).detail);
            }}
          >
            Cancel
          </Button>
        </HStack>
      )}
      {render.soundId !== null && <DownloadWav soundId={render.soundId} name={render.name} />}
    </Box>
  );
}

/** What has come out: played, opened, dragged out, renamed and deleted from where it appears. */
function MadeSound({ sound, onPlay }: { readonly sound: Sound; readonly onPlay?: (() => void) | undefined }) {
  const [changeSound] = useChangeSoundMutation();
  const [naming, setNaming] = useState(false);
  const [deleting, setDeleting] = useState(false);
  const rename = async (name: string) => {
    const result = await changeSound({ id: sound.id, change: { name } });
    if ('error' in result) tellFailure('Not renamed', problemOf(result.error).detail);
  };
  return (
    <HStack gap="0">
      <PlaySound sound={sound} {...(onPlay ? { onPlay } : {})} />
      <Link asChild fontWeight="600" fontSize="sm" color="ink" minWidth="0" flex="1" title={`Open ${sound.name}`}>
        <RouterLink to={`/sounds/${sound.id}`} {...dragOut(sound.id, sound.name)}>
          <Text truncate>{sound.name}</Text>
        </RouterLink>
      </Link>
      <IconAction label={`Rename ${sound.name}`} minWidth="28px" height="28px" onClick={() => setNaming(true)}>
        <Pencil size={13} />
      </IconAction>
      <IconAction label={`Delete ${sound.name}`} minWidth="28px" height="28px" onClick={() => setDeleting(true)}>
        <X size={13} />
      </IconAction>
      {naming && (
        <NameDialog
          title="Name of the sound"
          value={sound.name}
          maxLength={200}
          onDone={(name) => {
            if (name !== '') void rename(name);
          }}
          onClose={() => setNaming(false)}
        />
      )}
      {deleting && (
        <PlainDialog title={`Delete “${sound.name}”?`} size="xs" onClose={() => setDeleting(false)}>
          <DeleteSound sound={sound} asks={false} onDeleted={() => setDeleting(false)} />
        </PlainDialog>
      )}
    </HStack>
  );
}

const DEPTH_NAMES: Record<WavDepth, string> = { '16': '16 bit', '24': '24 bit', '32f': '32 bit float' };

/** Writes the sound as a WAV file of a chosen depth. */
export function DownloadWav({ soundId, name }: { soundId: string; name: string }) {
  const [depth, setDepth] = useState<WavDepth>('24');
  return (
    <HStack gap="2" mt="1">
      <Choice
        label={`Sample format of ${name}`}
        value={depth}
        options={WAV_DEPTHS.map((value) => [value, DEPTH_NAMES[value]] as const)}
        onChange={setDepth}
        width="116px"
      />
      <Link
        href={audioUrl(soundId, { depth })}
        download={`${name}.wav`}
        fontSize="sm"
        color="copper"
        minHeight="24px"
        whiteSpace="nowrap"
        aria-label={`Download WAV of ${name}`}
      >
        <Download size={14} aria-hidden /> Download WAV
      </Link>
    </HStack>
  );
}

function statusText(render: Render): string {
  switch (render.status) {
    case 'queued':
      return 'queued';
    case 'running':
      return `${Math.round(render.progress * 100)} %`;
    case 'failed':
      return `failed: ${render.error ?? ''}`;
    case 'cancelled':
      return 'cancelled';
    default:
      return `done ${new Date(render.finishedAt ?? render.createdAt).toLocaleTimeString()}`;
  }
}
