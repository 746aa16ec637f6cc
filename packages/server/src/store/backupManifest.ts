import * as z from 'zod';

export const MANIFEST = 'manifest.json';
export const DATABASE = 'hexenkessel.sqlite';
/** The only paths that a backup has, so that none leads out of a folder. */
const PATH = /^(hexenkessel\.sqlite|audio\/[0-9a-f]{2}\/[0-9a-f]{64}\.wav)$/;

/** What stands first in a backup: all that is in it, with hashes by which it is checked before anything is put in place. */
export const manifestSchema = z.object({
  format: z.literal('hexenkessel.backup'),
  version: z.literal(1),
  made: z.string(),
  files: z
    .array(
      z.object({
        path: z.string().regex(PATH),
        sha256: z.string().regex(/^[0-9a-f]{64}$/),
        bytes: z.number().int().min(0),
      }),
    )
    .max(1_000_000),
  missing: z.array(z.string()).describe('Hashes of audio that was missing when the backup was made.'),
});
export type Manifest = z.infer<typeof manifestSchema>;
