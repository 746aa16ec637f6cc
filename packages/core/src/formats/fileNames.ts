import { checkName, fillTemplate } from '../chain/nameTemplate.ts';

interface NamedSound {
  readonly name: string;
  readonly sampleRate: number;
  readonly lineage: { readonly chainName: string; readonly version: string; readonly sourceName: string } | null;
}

/**
 * Name of a file for a sound from a template with {sound}, {source}, {chain}, {version}, {rate} and {number}. `taken` holds
 * the names there are already, as they are told apart without case; a number is put behind one that is among them.
 */
export function fileNameFor(
  template: string,
  sound: NamedSound,
  number: number,
  kind: string,
  taken: Set<string>,
): string {
  const { name, sampleRate, lineage } = sound;
  const filled = fillTemplate(template, {
    sound: name,
    source: lineage?.sourceName ?? name,
    chain: lineage?.chainName ?? '',
    version: lineage?.version ?? '',
    rate: String(sampleRate),
    number: String(number).padStart(2, '0'),
  });
  // What file systems forbid, beyond what names forbid anyway.
  const safe =
    checkName(filled.replace(/[/\\]/g, '-'))
      .replace(/[<>:"|?*]/g, '-')
      .replace(/[. ]+$/, '') || 'sound';
  for (let n = 1; ; n++) {
    const file = `${safe}${n === 1 ? '' : ` ${n}`}.${kind}`;
    if (taken.has(file.toLowerCase())) continue;
    taken.add(file.toLowerCase());
    return file;
  }
}
