import { REFERENCE_RATE } from '../timing/tempo.ts';
import type { z } from 'zod';
import { InputError } from '../model/errors.ts';
import { LIMITS } from '../model/limits.ts';
import { remembered } from '../model/sharing.ts';
import { HEAD_ID } from '../heads/contract.ts';
import type { Catalogue, NamedStage } from '../catalogue/catalogue.ts';
import type { ResolvedValues } from '../stages/contract.ts';
import { labelOf, rangeFault, type Params, type SoundRef } from '../params/params.ts';
import { showSeconds } from '../timing/display.ts';
import { resolveTime, type Timing } from '../timing/tempo.ts';
import { CHAIN_FORMAT, CHAIN_VERSION, documentSchema, type ChainDocument, type StageDocument } from './schema.ts';
import { issueText, settleSettings, stagePlace } from './settleSettings.ts';
import { allStages, idsOf, mapStages, needsWholeClip, withBranches } from './branches.ts';
import { movementFaults } from './movementFaults.ts';
import { applyPanel } from './panel.ts';
import { checkName, fillNameTemplate } from './nameTemplate.ts';
import { isObject, type Json } from './upgrade/json.ts';
import { upgraded } from './upgrade/index.ts';

/** Reads a chain file. InputError names every fault by stage and parameter with what is allowed. */
export function parseChainText(catalogue: Catalogue, text: string): ChainDocument {
  const bytes = new TextEncoder().encode(text).length;
  if (bytes > LIMITS.chainBytes) {
    throw new InputError(`The chain file has ${bytes} bytes; at most ${LIMITS.chainBytes} (1 MiB) are allowed.`);
  }
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new InputError(`The chain file is not JSON: ${(error as Error).message}.`);
  }
  return parseChain(catalogue, json);
}

/** Checks a chain document of any version and fills in its defaults. */
export function parseChain(catalogue: Catalogue, json: unknown): ChainDocument {
  const early = refuseForeign(json) ?? refuseOversize(json);
  if (early) throw new InputError(`This chain cannot be opened. ${early}`, { faults: [early] });
  const settled = settleSettings(catalogue, upgraded(json as Json, CHAIN_VERSION));
  const parsed = documentSchema().safeParse(settled.json);
  const shapeFaults = (parsed.error?.issues ?? []).map((issue) => describe(catalogue, issue, settled.json));
  const faults = [...settled.faults, ...shapeFaults];
  const chain =
    parsed.success && faults.length === 0
      ? fillBranches(catalogue, parsed.data as unknown as ChainDocument)
      : undefined;
  if (chain) faults.push(...documentFaults(catalogue, chain));
  if (!chain || faults.length > 0) throw new InputError(`This chain cannot be opened. ${faults.join(' ')}`, { faults });
  return applyPanel(catalogue, chain);
}

/** Gives a stage that holds stages and says nothing of its branches as few empty ones as it can have. */
export function fillBranches(catalogue: Catalogue, chain: ChainDocument): ChainDocument {
  const known = catalogue.for(chain);
  const lacks = (stage: StageDocument) => !stage.branches?.length && known.of(stage).holds !== undefined;
  if (!allStages(chain.stages).some(({ stage }) => lacks(stage))) return chain;
  const taken = idsOf(chain);
  return mapStages(chain, (stages) =>
    stages.map((stage) => (lacks(stage) ? withBranches(known, stage, taken) : stage)),
  );
}

function refuseForeign(json: unknown): string | undefined {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return 'It is not a JSON object.';
  const { format, version } = json as { format?: unknown; version?: unknown };
  if (format !== CHAIN_FORMAT) return `Its "format" is ${JSON.stringify(format)}; a chain says "${CHAIN_FORMAT}".`;
  if (!Number.isInteger(version) || Number(version) < 1 || Number(version) > CHAIN_VERSION)
    return `Its "version" is ${JSON.stringify(version)}; this program reads versions 1 to ${CHAIN_VERSION}.`;
  return undefined;
}

/** Counts stages before anything else is looked at, so that a hostile file costs nothing. */
export function refuseOversize(json: unknown): string | undefined {
  let level: unknown[] = [json];
  let count = 0;
  for (let depth = 0; level.length > 0; depth++) {
    const stages = level.flatMap((holder) => listOf(holder, 'stages'));
    if (stages.length > 0 && depth >= LIMITS.depth)
      return `Its stages stand ${depth + 1} deep inside each other; at most ${LIMITS.depth} are allowed.`;
    count += stages.length;
    if (count > LIMITS.stages)
      return `It has more than ${LIMITS.stages} stages, those inside others counted; at most ${LIMITS.stages} are allowed.`;
    level = stages.flatMap((stage) => listOf(stage, 'branches'));
  }
  return undefined;
}

function listOf(holder: unknown, key: string): unknown[] {
  const list = typeof holder === 'object' && holder !== null ? (holder as Record<string, unknown>)[key] : undefined;
  return Array.isArray(list) ? (list as unknown[]) : [];
}

/** What the schema cannot see: ids twice, musical lengths that are out of range at the chain's tempo, names. */
export function documentFaults(catalogue: Catalogue, chain: ChainDocument): string[] {
  const faults: string[] = [];
  const seen = new Set<string>([HEAD_ID]);
  stageFaults(catalogue.for(chain), chain.stages, chain.timing, seen, faults);
  for (const { id } of [chain.modulators, chain.routes, chain.panel, chain.scripts].flat()) {
    if (seen.has(id)) faults.push(`The id "${id}" is used twice; give each its own.`);
    seen.add(id);
  }
  faults.push(
    ...scriptFaults(chain),
    ...memoryFaults(catalogue.for(chain), chain),
    ...movementFaults(catalogue, chain),
  );
  for (const [name, overhang] of [
    ['tail', chain.render.tail],
    ['lead-in', chain.render.leadIn],
  ] as const) {
    if (overhang.mode !== 'fixed') continue;
    const seconds = resolveTime(overhang.length, chain.timing, REFERENCE_RATE);
    if (seconds > LIMITS.overhangSeconds) {
      faults.push(`Render: the ${name} is ${showSeconds(seconds)}; allowed is 0 s to ${LIMITS.overhangSeconds} s.`);
    }
  }
  for (const check of [
    () => checkName(chain.name),
    () => fillNameTemplate(chain.render.name, { sound: 'sound', chain: 'chain', version: '1', tempo: '120' }),
  ]) {
    try {
      check();
    } catch (error) {
      if (!(error instanceof InputError)) throw error;
      faults.push(error.message);
    }
  }
  return faults;
}

/** Characters are counted by the schema, bytes here. */
function scriptFaults({ scripts }: ChainDocument): string[] {
  const encoder = new TextEncoder();
  const sizes = scripts.map(({ id, text }) => ({ id, bytes: encoder.encode(text).length }));
  const all = sizes.reduce((sum, { bytes }) => sum + bytes, 0);
  return [
    ...sizes
      .filter(({ bytes }) => bytes > LIMITS.scriptBytes)
      .map(({ id, bytes }) => `Script "${id}" has ${bytes} bytes; at most ${LIMITS.scriptBytes} are allowed.`),
    ...(all > LIMITS.scriptsBytes
      ? [`Its scripts have ${all} bytes together; at most ${LIMITS.scriptsBytes} are allowed.`]
      : []),
  ];
}

/** Stages that are written as text have memory of their own each, of which a browser gives only so much. */
function memoryFaults(known: Catalogue, { stages }: ChainDocument): string[] {
  const bytes = allStages(stages).reduce((sum, { stage }) => {
    const definition = known.of(stage);
    return sum + (definition.runs === 'live' ? (definition.memoryBytes ?? 0) : 0);
  }, 0);
  if (bytes <= LIMITS.scriptMemory) return [];
  const [taken, allowed] = [bytes, LIMITS.scriptMemory].map((count) => Math.ceil(count / 1024 ** 2));
  return [`Its scripts take ${taken} MiB of memory at 192 kHz; at most ${allowed} are allowed. Take shorter lines.`];
}

/** Settings of a stage that are out of range at the chain's tempo. */
const rangeFaults = remembered((stage: StageDocument, params: Params, timing: Timing): readonly string[] =>
  Object.entries(params).flatMap(([key, param]) => {
    const fault = rangeFault(param, stage.settings[key], timing, REFERENCE_RATE);
    return fault ? [`${labelOf(key, param)} ${fault}.`] : [];
  }),
);

/** `earlier` are the branches that are run before these stages, `own` those they stand in. */
function stageFaults(
  catalogue: Catalogue,
  stages: readonly StageDocument[],
  timing: Timing,
  seen: Set<string>,
  faults: string[],
  earlier: readonly string[] = [],
  own: readonly string[] = [],
): void {
  const claim = (id: string, place: string) => {
    if (seen.has(id)) faults.push(`${place}: the id "${id}" is used twice; give each its own.`);
    seen.add(id);
  };
  // What stands before a whole-clip stage in a branch is run by itself: no branch beside it is there to be heard.
  const alone = own.length > 0 ? stages.findLastIndex((stage) => stage.on && needsWholeClip(catalogue, stage)) : -1;
  stages.forEach((stage, index) => {
    const audible = index <= alone ? [] : earlier;
    claim(stage.id, `Stage ${index + 1}`);
    const definition = catalogue.of(stage);
    const place = `Stage "${stage.id}" (${definition.title})`;
    faults.push(...rangeFaults(stage, definition.params, timing).map((fault) => `${place}: ${fault}`));
    for (const [key, param] of Object.entries(definition.params)) {
      const fault = param.type === 'sound' ? branchFault(stage.settings[key] as SoundRef, audible, own) : undefined;
      if (fault) faults.push(`${place}: ${labelOf(key, param)} ${fault}.`);
    }
    if (!definition.holds) return;
    const branches = stage.branches ?? [];
    const { min, max } = definition.holds.count(stage.settings as ResolvedValues<Params>);
    if (branches.length < min || branches.length > max)
      faults.push(
        `${place}: it has ${branches.length} branches; ${min === max ? min : `${min} to ${max}`} are allowed.`,
      );
    branches.forEach((branch, b) => {
      claim(branch.id, `${place}, branch ${b + 1}`);
      // Whole-clip stages run their branches one part of the clip after another: none is there for another to hear.
      const before = definition.runs === 'live' ? [...audible, ...branches.slice(0, b).map(({ id }) => id)] : [];
      stageFaults(catalogue, branch.stages, timing, seen, faults, before, [...own, branch.id]);
    });
  });
}

/** What is wrong with a branch as a side input: only one that is run before can lead. */
function branchFault({ branch }: SoundRef, earlier: readonly string[], own: readonly string[]): string | undefined {
  if (branch === undefined || earlier.includes(branch)) return undefined;
  const allowed = earlier.length > 0 ? `branches before it are ${earlier.join(', ')}` : 'there is no branch before it';
  if (own.includes(branch)) return `is the branch "${branch}" that it stands in itself, which is a loop; ${allowed}`;
  return `is the branch "${branch}", which does not come before it; ${allowed}`;
}

type Issue = z.core.$ZodIssue;

/** A schema issue in the user's words: which stage, which field, what is allowed. */
function describe(catalogue: Catalogue, issue: Issue, json: Json): string {
  const holder = innermostStage(issue.path, json);
  if (!holder) return `${issue.path.join('.') || 'The chain'}: ${issueText(issue)}.`;
  const { stage, index, rest } = holder;
  const named = isObject(stage) && typeof stage['kind'] === 'string' ? (stage as unknown as NamedStage) : undefined;
  const title = named && catalogue.knows(named) ? ` (${catalogue.of(named).title})` : '';
  return `${stagePlace(stage, index)}${title}: ${rest.join('.') || 'the stage'} – ${issueText(issue)}.`;
}

/** The stage an issue lies in, where that stands in its list, and the path from there on. */
function innermostStage(path: readonly PropertyKey[], json: unknown) {
  let found: { stage: unknown; index: number; rest: readonly PropertyKey[] } | undefined;
  let place: unknown = json;
  for (let at = 0; at < path.length; at++) {
    place = (place as Record<PropertyKey, unknown> | undefined)?.[path[at]];
    const index = path[at];
    if (path[at - 1] === 'stages' && typeof index === 'number')
      found = { stage: place, index, rest: path.slice(at + 1) };
  }
  return found;
}

/** An empty chain to begin with. */
export function emptyChain(catalogue: Catalogue, name: string): ChainDocument {
  return parseChain(catalogue, { format: CHAIN_FORMAT, version: CHAIN_VERSION, name });
}
