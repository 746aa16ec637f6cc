import type { SoundName } from '@hexenkessel/core/protocol';

const FIRST_SHELF = 10;

/** The sounds at hand for a chain: its own shelf, or the sources there are; test signals stand behind them. */
export function shelfOf(sounds: readonly SoundName[], chosen: readonly string[]): SoundName[] {
  const own = chosen.flatMap((id) => sounds.find((sound) => sound.id === id) ?? []);
  if (own.length > 0) return own;
  return [
    ...sounds.filter(({ kind }) => kind === 'source').slice(-FIRST_SHELF),
    ...sounds.filter(({ kind }) => kind === 'signal'),
  ];
}

/** The sound that a step along the shelf leads to. */
export function alongShelf(shelf: readonly SoundName[], soundId: string, by: 1 | -1): SoundName | undefined {
  const at = shelf.findIndex(({ id }) => id === soundId);
  return shelf[(at + by + shelf.length) % shelf.length];
}
