import { InputError } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';

export const DEFAULT_NAME_TEMPLATE = '{sound} – {chain}';

export interface NameParts {
  readonly sound: string;
  readonly chain: string;
  readonly version: string;
  readonly tempo: string;
  /** What of the sound is rendered, as `regionInName` writes it; left out: all of it. */
  readonly region?: string;
}

/**
 * Fills `{sound}`, `{chain}`, `{version}`, `{tempo}` and `{region}` into a name; InputError for any other placeholder. A
 * region that the template does not name is put behind, so that no part passes for the whole.
 */
export function fillNameTemplate(template: string, { region = '', ...parts }: NameParts): string {
  const filled = fillTemplate(template, { ...parts, region }).trim();
  if (region === '' || template.includes('{region}')) return checkName(filled);
  const behind = ` (${region})`;
  return checkName(filled.slice(0, LIMITS.nameLength - behind.length).trim() + behind);
}

/** A region as it stands in a name: `1.25–1.45 s`. */
export function regionInName(
  { start, end }: { readonly start: number; readonly end: number },
  sampleRate: number,
): string {
  // Finer where both ends would read the same.
  const digits = end - start < sampleRate / 1000 ? 6 : 4;
  const seconds = (frame: number) => String(Number((frame / sampleRate).toFixed(digits)));
  return `${seconds(start)}–${seconds(end)} s`;
}

/** Fills what stands in braces; InputError for a placeholder that is not among `parts`. */
export function fillTemplate(template: string, parts: Readonly<Record<string, string>>): string {
  if (template.length > LIMITS.nameLength)
    throw new InputError(
      `The template of the name has ${template.length} characters; at most ${LIMITS.nameLength} are allowed.`,
      { field: 'render.name' },
    );
  return template.replace(/\{([^}]*)\}/g, (_, key: string) => {
    if (Object.hasOwn(parts, key)) return parts[key];
    const allowed = Object.keys(parts).map((name) => `{${name}}`);
    throw new InputError(
      `The name has {${key}}; allowed are ${allowed.slice(0, -1).join(', ')} and ${allowed.at(-1)}.`,
      {
        field: 'render.name',
      },
    );
  });
}

/** A name fit for a sound or chain: not empty, not a path, no control characters. Returns it trimmed. */
export function checkName(name: string): string {
  const trimmed = name.trim();
  if (trimmed === '') throw new InputError('The name is empty; give it at least one character.', { field: 'name' });
  if (trimmed.length > LIMITS.nameLength) {
    throw new InputError(`The name has ${trimmed.length} characters; at most ${LIMITS.nameLength} are allowed.`, {
      field: 'name',
    });
  }
  if (/[/\\\u0000-\u001f\u007f]/.test(trimmed) || trimmed === '.' || trimmed === '..') {
    throw new InputError(
      `"${trimmed}" cannot be a name: slashes, backslashes and control characters are not allowed.`,
      {
        field: 'name',
      },
    );
  }
  return trimmed;
}
