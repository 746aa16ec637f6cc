/** Lengths that follow the tempo, as a chain file holds them. */
import { NOTE_PATTERN } from '../../timing/tempo.ts';
import type { Schemas } from './contract.ts';

/** Made once for a schema library. */
export function shared<T>(make: (z: Schemas) => T): (z: Schemas) => T {
  let made: { readonly value: T } | undefined;
  return (z) => (made ??= { value: make(z) }).value;
}

/** A note value, beats or bars. */
export const musicalSchema = shared((z) => {
  const length = z.number().positive().max(100_000);
  return z
    .union([
      z.strictObject({
        note: z.string().regex(NOTE_PATTERN, 'write a note value as 1/4, 1/8d (dotted) or 1/8t (triplet)'),
      }),
      z.strictObject({ beats: length }),
      z.strictObject({ bars: length }),
    ])
    .meta({ id: 'musical' });
});

const countedSchema = shared((z) =>
  z.strictObject({ samples: z.number().int().nonnegative() }).meta({ id: 'samples' }),
);

/** A time: seconds within the range, or a musical or counted length. */
export const timeSchemaOf = (z: Schemas, min: number, max: number) =>
  z.union([z.number().min(min).max(max), musicalSchema(z), countedSchema(z)]);
