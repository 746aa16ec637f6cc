import { Play, Square } from 'lucide-react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Sound } from '@hexenkessel/core/protocol';
import { IconAction } from '../parts/IconAction.tsx';
import { soundPlayer, useSoundPlayer } from './soundPlayer.ts';

interface Props {
  readonly sound: Pick<Sound, 'id' | 'name' | 'missing'>;
  /** Called before it plays: what else plays can stop. */
  readonly onPlay?: () => void;
}

/** Plays a sound as it is, or stops it. */
export function PlaySound({ sound: { id, name, missing }, onPlay }: Props) {
  const state = useSoundPlayer();
  const playing = state.name === 'playing' && state.soundId === id;
  const failed = state.name === 'failed' && state.soundId === id;
  return (
    <IconAction
      label={playing ? `Stop ${name}` : failed ? `${name} could not be played` : `Play ${name}`}
      aria-pressed={playing}
      color={failed ? 'alarm' : 'ink'}
      disabled={missing}
      minWidth="28px"
      height="28px"
      onClick={() => {
        onPlay?.();
        soundPlayer.toggle(id);
      }}
    >
      {playing ? <Square size={14} /> : <Play size={14} />}
    </IconAction>
  );
}

/** The space bar plays the sound that was played last, else `first`; on a button it belongs to the button. */
export function usePlayKey(sounds: readonly Pick<Sound, 'id' | 'missing'>[], first: string | undefined): void {
  useHotkeys(
    'space',
    () => {
      const last = soundPlayer.lastPlayed;
      const id = sounds.some((sound) => sound.id === last && !sound.missing) ? last : first;
      if (id !== undefined) soundPlayer.toggle(id);
    },
    {
      preventDefault: true,
      ignoreEventWhen: (event) =>
        (event.target as HTMLElement).closest('button, a, select, input, label, [role=slider], [role=checkbox]') !==
        null,
    },
  );
}
