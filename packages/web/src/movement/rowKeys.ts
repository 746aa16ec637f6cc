export type RowAction = 'pin' | 'move' | 'draw' | 'lock' | 'sync';

/** The keys on a setting that has the focus. */
export const ROW_KEYS: Readonly<Record<RowAction, { readonly key: string; readonly does: string }>> = {
  pin: { key: 'p', does: 'pin to the panel, or unpin' },
  move: { key: 'm', does: 'move it by a new LFO' },
  draw: { key: 'o', does: 'draw it over time' },
  lock: { key: 'k', does: 'lock it when settings are drawn at random, or let it be drawn' },
  sync: { key: 't', does: 'let a time or rate follow the tempo, or keep it in time' },
};

export function rowAction(key: string): RowAction | undefined {
  return (Object.keys(ROW_KEYS) as RowAction[]).find((action) => ROW_KEYS[action].key === key);
}
