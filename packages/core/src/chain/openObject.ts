/** Objects of a chain document: no unknown fields, but for those that other programs keep in them. */
import * as z from 'zod';

/** What fields begin with that nobody here reads; they are kept as they are. */
const FOREIGN = 'x-';

const open = new WeakSet<object>();

/** Like a strict object, with fields `x-…` of any kind beside its own. `id` names it among the definitions of the JSON Schema. */
export function openObject<S extends z.ZodRawShape>(shape: S, id?: string): z.ZodObject<S, z.core.$strict> {
  const own = new Set(Object.keys(shape));
  const checked = z.looseObject(shape).check(({ value, issues }) => {
    const keys = Object.keys(value).filter((key) => !own.has(key) && !key.startsWith(FOREIGN));
    if (keys.length > 0) issues.push({ code: 'unrecognized_keys', keys, input: value });
  });
  const made = id === undefined ? checked : checked.meta({ id });
  open.add(made);
  return made as unknown as z.ZodObject<S, z.core.$strict>;
}

/** Says in JSON Schema what `openObject` does. To be given to the conversion as `override`. */
export function describeOpen(context: {
  readonly zodSchema: object;
  readonly jsonSchema: Record<string, unknown>;
}): void {
  if (!open.has(context.zodSchema)) return;
  context.jsonSchema['patternProperties'] = { [`^${FOREIGN}`]: {} };
  context.jsonSchema['additionalProperties'] = false;
}
