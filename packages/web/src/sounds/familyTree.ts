import type { Sound } from '@hexenkessel/core/protocol';

/** A sound and the renders that were made of it. */
export interface FamilyNode {
  readonly sound: Sound;
  readonly children: readonly FamilyNode[];
}

/** Sounds as trees: each under the one it was rendered from, a mix under its first; at the top those that came from none that is there. */
export function branchesOf(sounds: readonly Sound[]): FamilyNode[] {
  const there = new Set(sounds.map(({ id }) => id));
  const childrenOf = new Map<string, Sound[]>();
  for (const sound of sounds) {
    const from = [sound.lineage?.sourceId, ...(sound.mixed?.parts ?? []).map(({ soundId }) => soundId)];
    const under = from.find((id) => id !== undefined && there.has(id)) ?? '';
    childrenOf.set(under, [...(childrenOf.get(under) ?? []), sound]);
  }
  const node = (sound: Sound): FamilyNode => ({
    sound,
    children: (childrenOf.get(sound.id) ?? []).map(node),
  });
  return (childrenOf.get('') ?? []).map(node);
}
