/** From version 1: words of the trade for some settings, a head with settings, and two mends that a chain must not hear. */
import { isObject, stagesIn, withEntries, withStages, type Json } from './json.ts';

/** Kinds, settings and words that have another name since. */
const KINDS: Readonly<Record<string, string>> = { halfTime: 'halfSpeed' };
const KEYS: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  flanger: { least: 'minDelay' },
  pan: { place: 'pan' },
};
const MATERIAL = { voice: 'monophonic', tones: 'polyphonic', drums: 'percussive' };
const WORDS: Readonly<Record<string, Readonly<Record<string, Readonly<Record<string, string>>>>>> = {
  transpose: { mode: MATERIAL },
  stretch: { mode: MATERIAL },
  stutter: { fires: { 'while the switch is on': 'always' } },
};

/** Settings that could once be moved while a stage runs: routes and lanes to them go, their values stay. */
const STOOD_STILL: Readonly<Record<string, readonly string[]>> = { flanger: ['throughZero'] };

/** The head's settings are named `head.KEY` by now; whatever had that id goes by another. */
const HEAD = 'head';

export function fromVersion1(json: Json): Json {
  const kinds = new Map(stagesIn(json).map(({ id, kind }) => [String(id), String(kind)]));
  const still = new Set([...kinds].flatMap(([id, kind]) => (STOOD_STILL[kind] ?? []).map((key) => `${id}.${key}`)));
  const moved = (entry: Json, key: string) => (still.has(String(entry[key])) ? undefined : entry);
  const renamed = (target: unknown) => targetNow(target, kinds);
  let document = withStages(json, (stage) => stageNow(echoCuts(stage)));
  document = withEntries(document, 'routes', (route) => moved({ ...route, to: renamed(route['to']) }, 'to'));
  document = withEntries(document, 'lanes', (lane) => moved({ ...lane, target: renamed(lane['target']) }, 'target'));
  document = withEntries(document, 'panel', (control) =>
    withEntries(control, 'drives', (driven) => ({
      ...driven,
      target: renamed(driven['target']),
      from: wordAt(driven['target'], kinds, driven['from']),
      to: wordAt(driven['target'], kinds, driven['to']),
    })),
  );
  const { locked, head } = document;
  return withoutHeadId({
    ...document,
    ...(Array.isArray(locked) ? { locked: locked.map(renamed) } : {}),
    ...(isObject(head) ? { head: { settings: {}, ...head } } : {}),
  });
}

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

function stageNow(stage: Json): Json {
  const kind = String(stage['kind']);
  const { settings } = stage;
  return {
    ...stage,
    ...(Object.hasOwn(KINDS, kind) ? { kind: KINDS[kind] } : {}),
    ...(isObject(settings)
      ? {
          settings: Object.fromEntries(
            Object.entries(settings).map(([key, value]) => [keyNow(kind, key), wordNow(kind, key, value)]),
          ),
        }
      : {}),
  };
}

const own = <T>(table: Readonly<Record<string, T>> | undefined, key: string): T | undefined =>
  table !== undefined && Object.hasOwn(table, key) ? table[key] : undefined;

const keyNow = (kind: string, key: string): string => own(own(KEYS, kind), key) ?? key;

function wordNow(kind: string, key: string, value: unknown): unknown {
  return typeof value === 'string' ? (own(own(own(WORDS, kind), key), value) ?? value) : value;
}

function parts(target: unknown): readonly [id: string, key: string] {
  const [id, key = ''] = String(target).split('.');
  return [id, key];
}

function targetNow(target: unknown, kinds: ReadonlyMap<string, string>): unknown {
  const [id, key] = parts(target);
  const now = keyNow(kinds.get(id) ?? '', key);
  return now === key ? target : `${id}.${now}`;
}

function wordAt(target: unknown, kinds: ReadonlyMap<string, string>, value: unknown): unknown {
  const [id, key] = parts(target);
  return wordNow(kinds.get(id) ?? '', key, value);
}

/** Gives whatever is called as the head another id, and says so wherever it is named. */
function withoutHeadId(json: Json): Json {
  const text = JSON.stringify(json);
  if (!text.includes(`"id":"${HEAD}"`)) return json;
  let free = 2;
  while (text.includes(`"${HEAD}${free}`)) free++;
  const id = `${HEAD}${free}`;
  const named = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(named);
    if (!isObject(value)) return value;
    return Object.fromEntries(Object.entries(value).map(([key, inside]) => [key, renamedAt(key, inside)]));
  };
  const renamedAt = (key: string, value: unknown): unknown => {
    if (key === 'locked' && Array.isArray(value)) return value.map((target) => renamedAt('target', target));
    if (typeof value !== 'string') return named(value);
    if ((key === 'id' || key === 'from' || key === 'branch') && value === HEAD) return id;
    if ((key === 'to' || key === 'target') && value.startsWith(`${HEAD}.`)) return id + value.slice(HEAD.length);
    return value;
  };
  return named(json) as Json;
}
