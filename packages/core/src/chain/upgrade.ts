/** Brings chain documents of earlier days up to what stages take today, so that each still opens. */
type Json = Record<string, unknown>;

const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const objectsIn = (value: unknown): Json[] => (Array.isArray(value) ? value.filter(isObject) : []);

/** Settings that could once be moved while a stage runs: routes and lanes to them go, their values stay. */
const STOOD_STILL: Readonly<Record<string, readonly string[]>> = { flanger: ['throughZero'] };

/** A document as it would be written today; anything that is not an object is given back as it is. */
export function upgraded(json: unknown): unknown {
  if (!isObject(json)) return json;
  const still = new Set(
    stagesIn(json).flatMap(({ id, kind }) => (STOOD_STILL[String(kind)] ?? []).map((key) => `${String(id)}.${key}`)),
  );
  if (still.size === 0) return json;
  const without = (list: unknown, key: string) =>
    Array.isArray(list) ? list.filter((entry) => !isObject(entry) || !still.has(String(entry[key]))) : list;
  return {
    ...json,
    ...('routes' in json ? { routes: without(json['routes'], 'to') } : {}),
    ...('lanes' in json ? { lanes: without(json['lanes'], 'target') } : {}),
  };
}

function stagesIn(holder: Json): Json[] {
  return objectsIn(holder['stages']).flatMap((stage) => [stage, ...objectsIn(stage['branches']).flatMap(stagesIn)]);
}
