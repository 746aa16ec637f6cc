import { LIMITS } from '../../model/limits.ts';
import type { ParamText, ParamType, Settings, SoundRef } from './contract.ts';
import { shared } from './musical.ts';
import { halfWay } from './scale.ts';

export interface SoundParam extends ParamText {
  readonly type: 'sound';
  readonly default: SoundRef;
  /** True when a branch may stand in its place. */
  readonly branches?: boolean;
  /** What happens where it is not there, behind a colon; the sound passes dry when left out. */
  readonly without?: string;
  /** Whether one has to be chosen, with these settings; always when left out. */
  readonly needed?: (settings: Settings) => boolean;
}

/** Another sound; none by default. */
export const sound = (p: Omit<SoundParam, 'type' | 'default'>): SoundParam => ({
  type: 'sound',
  default: { sound: '' },
  ...p,
});

/** The value that stands for a branch in a sound's place. */
export const branchWord = (id: string): string => `branch ${id}`;

/** What stands for a sound in a chain file. */
export const soundRefSchema = shared((z) =>
  z
    .strictObject({
      sound: z.string().max(LIMITS.nameLength).describe('Name of the sound; empty for none.'),
      sha256: z
        .string()
        .regex(/^[0-9a-f]{64}$/, 'is a SHA-256 in hexadecimal')
        .optional()
        .describe('Of the sound file; found by this where it is said, else by the name.'),
    })
    .meta({ id: 'sound' }),
);

/** The same, or an earlier branch instead. */
const soundOrBranchSchema = shared((z) =>
  soundRefSchema(z)
    .extend({ branch: z.string().max(40).optional().describe('Id of an earlier branch, instead of a sound.') })
    .meta({ id: 'soundOrBranch' }),
);

export const soundType: ParamType<SoundParam, SoundRef> = {
  unit: '',
  scaled: false,
  /** The text that stands for it. */
  resolve: (_param, { sound: name, sha256, branch }) => (branch === undefined ? (sha256 ?? name) : branchWord(branch)),
  print: (_param, { sound: name, branch }) => (branch ? branchWord(branch) : name || 'none'),
  parse({ branches }, text) {
    const branch = /^branch\s+(\S+)$/.exec(text.trim());
    if (branch && branches) return { sound: '', branch: branch[1] };
    return { sound: text.trim() === 'none' ? '' : text.trim() };
  },
  range: ({ branches }) => `the name of a sound${branches ? ', branch and the id of an earlier one' : ''}, or none`,
  schema: ({ branches }, z) => (branches ? soundOrBranchSchema(z) : soundRefSchema(z)),
  blend: halfWay,
};
