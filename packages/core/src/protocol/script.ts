/** Scripts that the server keeps, and those that lie in a folder given to it. */
import * as z from 'zod';
import { once } from '../model/once.ts';

/** Bytes of the text of a script, and of a chain in the folder of favourites. */
export const MOST_SCRIPT_BYTES = 256 * 1024;

export const scriptTextSchema = once(() =>
  z
    .string()
    .max(MOST_SCRIPT_BYTES)
    .refine((text) => new TextEncoder().encode(text).length <= MOST_SCRIPT_BYTES, {
      message: `too large; at most ${MOST_SCRIPT_BYTES} bytes are allowed`,
    })
    .describe('What the script is, as it was typed; it need not be in order.'),
);

export const scriptEntrySchema = once(() =>
  z.object({
    id: z.string(),
    title: z.string().describe('What it calls itself, when it was last in order.'),
    text: z.string(),
    revision: z.number().int().describe('Rises with each change; 0 for what is not kept here.'),
    from: z.enum(['own', 'favourites']).describe('Kept here, or read from the folder of favourites.'),
    changedAt: z.string(),
  }),
);

export type ScriptEntry = z.infer<ReturnType<typeof scriptEntrySchema>>;

export const favouriteChainSchema = once(() =>
  z.object({
    name: z.string().describe('What its file is called, without its ending.'),
    text: z.string().describe('The file; it need not be in order.'),
    changedAt: z.string(),
  }),
);

export type FavouriteChain = z.infer<ReturnType<typeof favouriteChainSchema>>;
