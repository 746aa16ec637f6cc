/** Documents before they are checked: anything may be anywhere. */
export type Json = Record<string, unknown>;

export const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

export const objectsIn = (value: unknown): Json[] => (Array.isArray(value) ? value.filter(isObject) : []);

/** Every stage of a document or branch, a stage before those inside it. */
export function stagesIn(holder: Json): Json[] {
  return objectsIn(holder['stages']).flatMap((stage) => [stage, ...objectsIn(stage['branches']).flatMap(stagesIn)]);
}

/** The same with every stage changed, those inside others first; itself where it holds none. */
export function withStages(holder: Json, change: (stage: Json) => Json): Json {
  const { stages } = holder;
  if (!Array.isArray(stages)) return holder;
  return {
    ...holder,
    stages: stages.map((stage: unknown) => {
      if (!isObject(stage)) return stage;
      const { branches } = stage;
      if (!Array.isArray(branches)) return change(stage);
      const inside = branches.map((branch: unknown) => (isObject(branch) ? withStages(branch, change) : branch));
      return change({ ...stage, branches: inside });
    }),
  };
}

/** The same with every entry of a list changed that is an object, and those taken out for which nothing is given. */
export function withEntries(holder: Json, key: string, change: (entry: Json) => Json | undefined): Json {
  const list = holder[key];
  if (!Array.isArray(list)) return holder;
  return {
    ...holder,
    [key]: list.flatMap((entry: unknown) => (isObject(entry) ? (change(entry) ?? []) : [entry])),
  };
}
