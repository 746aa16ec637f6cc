import { InputError } from '../errors.ts';
import { LIMITS } from '../limits.ts';

export const DEFAULT_NAME_TEMPLATE = '{sound} – {chain}';

export interface NameParts {
  readonly sound: string;
  readonly chain: string;
  readonly version: string;
  readonly tempo: string;
}

/** Fills `{sound}`, `{chain}`, `{version}` and `{tempo}` into a name; InputError for any other placeholder. */
export function fillNameTemplate(template: string, parts: NameParts): string {
  return checkName(fillTemplate(template, { ...parts }));
}

/** Fills what stands in braces; InputError for a placeholder that is not among `parts`. */
export function fillTemplate(template: string, parts: Readonly<Record<string, string>>): string {
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
