export type RowAction = 'pin' | 'move' | 'draw' | 'lock' | 'sync';

/** The keys on a setting that has the focus. */
export const ROW_KEYS: Readonly<Record<RowAction, { readonly key: string; readonly does: string }>> = {
  pin: { key: 'p', does: 'pin to the panel, or unpin' },
  move: { key: 'm', does: 'modulate with a new LFO' },
  draw: { key: 'o', does: 'automate: open a lane' },
  lock: { key: 'k', does: 'randomise: lock / unlock' },
  sync: { key: 't', does: 'tempo sync on / off' },
};

export function rowAction(key: string): RowAction | undefined {
  return (Object.keys(ROW_KEYS) as RowAction[]).find((action) => ROW_KEYS[action].key === key);
}
