/** Brings chain documents of earlier days up to what stages take today, so that each still opens. */
type Json = Record<string, unknown>;

const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const objectsIn = (value: unknown): Json[] => (Array.isArray(value) ? value.filter(isObject) : []);

/** Settings that could once be moved while a stage runs: routes and lanes to them go, their values stay. */
const STOOD_STILL: Readonly<Record<string, readonly string[]>> = { flanger: ['throughZero'] };

/** The cuts of an echo once swung with its time, by the same wave: what said how, says it for both. */
function echoCuts(stage: Json): Json {
  const { settings } = stage;
  if (stage['kind'] !== 'echo' || !isObject(settings)) return stage;
  const { movementRate, movementShape } = settings;
  const swings = settings['filterMovement'] !== undefined && !('filterRate' in settings || 'filterShape' in settings);
  if (!swings || (movementRate === undefined && movementShape === undefined)) return stage;
  return {
    ...stage,
    settings: {
      ...settings,
      ...(movementRate === undefined ? {} : { filterRate: movementRate }),
      ...(movementShape === undefined ? {} : { filterShape: movementShape }),
    },
  };
}

/** A document as it would be written today; anything that is not an object is given back as it is. */
export function upgraded(json: unknown): unknown {
  if (!isObject(json)) return json;
  const still = new Set(
    stagesIn(json).flatMap(({ id, kind }) => (STOOD_STILL[String(kind)] ?? []).map((key) => `${String(id)}.${key}`)),
  );
  const stages = withStages(json, echoCuts);
  if (still.size === 0) return stages;
  const without = (list: unknown, key: string) =>
    Array.isArray(list) ? list.filter((entry) => !isObject(entry) || !still.has(String(entry[key]))) : list;
  return {
    ...stages,
    ...('routes' in json ? { routes: without(json['routes'], 'to') } : {}),
    ...('lanes' in json ? { lanes: without(json['lanes'], 'target') } : {}),
  };
}

function stagesIn(holder: Json): Json[] {
  return objectsIn(holder['stages']).flatMap((stage) => [stage, ...objectsIn(stage['branches']).flatMap(stagesIn)]);
}

/** The same with every stage changed, those inside others too; itself where nothing is. */
function withStages(holder: Json, change: (stage: Json) => Json): Json {
  const { stages } = holder;
  if (!Array.isArray(stages)) return holder;
  return {
    ...holder,
    stages: stages.map((entry: unknown) => {
      if (!isObject(entry)) return entry;
      const { branches } = entry;
      const inside = Array.isArray(branches)
        ? {
            ...entry,
            branches: branches.map((branch: unknown) => (isObject(branch) ? withStages(branch, change) : branch)),
          }
        : entry;
      return change(inside);
    }),
  };
}
