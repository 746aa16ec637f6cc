/** The settings in a document as it comes in: what each stage and modulator takes, its definition says. */
import type { z } from 'zod';
import { InputError } from '../model/errors.ts';
import { modulatorOf } from '../modulation/modulators/index.ts';
import { settingsSchema } from '../params/paramSchema.ts';
import { describeRange, labelOf, type Params } from '../params/params.ts';
import type { Stage } from '../stages/contract.ts';
import type { Catalogue, NamedStage, Script } from '../catalogue/catalogue.ts';
import { SCRIPT_KIND } from '../stages/language.ts';
import { isObject, objectsIn, type Json } from './upgrade/json.ts';

/**
 * The document with every setting that is left out at its default, and what is wrong with those that are there. Fields of
 * a shape that the document may not have are passed over: its schema tells of them.
 */
export function settleSettings(catalogue: Catalogue, json: Json): { readonly json: Json; readonly faults: string[] } {
  const faults: string[] = [];
  const scripts = objectsIn(json['scripts']).filter(isScript);
  const known = catalogue.for({ scripts });
  const stages = settleStages(known, json['stages'], faults, false);
  const modulators = mapList(json['modulators'], (modulator, index) => {
    const place = `Modulator ${typeof modulator['id'] === 'string' ? `"${modulator['id']}"` : index + 1}`;
    const found = tryTo(() => modulatorOf(String(modulator['kind'])), place, faults);
    return found
      ? { ...modulator, ...settle(found.params, modulator, `${place} (${found.title})`, faults) }
      : modulator;
  });
  const head = isObject(json['head']) ? json['head'] : {};
  const { kind = 'clip' } = head;
  const found = typeof kind === 'string' ? tryTo(() => catalogue.headOf({ kind }), 'Head', faults) : undefined;
  return {
    json: {
      ...json,
      ...(found && (json['head'] === undefined || isObject(json['head']))
        ? { head: { ...head, ...settle(found.params, head, `Head (${found.title})`, faults) } }
        : {}),
      ...(stages === undefined ? {} : { stages }),
      ...(modulators === undefined ? {} : { modulators }),
    },
    faults,
  };
}

function isScript(script: Json): script is Json & Script {
  return ['id', 'language', 'text'].every((key) => typeof script[key] === 'string');
}

/** How a stage is called in a message: by its id or, without one, by where it stands in its list. */
export function stagePlace(stage: unknown, index: number): string {
  const id = isObject(stage) ? stage['id'] : undefined;
  return `Stage ${typeof id === 'string' ? `"${id}"` : index + 1}`;
}

function settleStages(catalogue: Catalogue, stages: unknown, faults: string[], inLoop: boolean): unknown {
  return mapList(stages, (stage, index) => {
    if (typeof stage['kind'] !== 'string') return stage;
    const definition = tryTo(() => catalogue.of(stage as unknown as NamedStage), `Stage ${index + 1}`, faults);
    if (!definition) return stage;
    const place = `${stagePlace(stage, index)} (${definition.title})`;
    if (inLoop && definition.runs === 'offline') faults.push(`${place}: not inside a loop: it needs the whole sound.`);
    if (!definition.holds && stage['branches'] !== undefined)
      faults.push(`${place}: it holds no stages, and "branches" is not allowed.`);
    if (stage['kind'] !== SCRIPT_KIND && stage['script'] !== undefined)
      faults.push(`${place}: it is built in, and "script" is not allowed.`);
    const branches = mapList(stage['branches'], (branch) => ({
      ...branch,
      ...('stages' in branch
        ? { stages: settleStages(catalogue, branch['stages'], faults, inLoop || !takesClips(definition)) }
        : {}),
    }));
    return {
      ...stage,
      ...settle(definition.params, stage, place, faults),
      ...(branches === undefined ? {} : { branches }),
    };
  });
}

/** True where stages that need the whole clip may stand in the branches. */
const takesClips = (stage: Stage) => stage.runs === 'offline' || stage.holds?.clipStages === true;

/** The objects of a list changed, anything else as it is. */
function mapList(list: unknown, change: (entry: Json, index: number) => Json): unknown {
  if (!Array.isArray(list)) return list;
  return list.map((entry: unknown, index) => (isObject(entry) ? change(entry, index) : entry));
}

function tryTo<T>(find: () => T, place: string, faults: string[]): T | undefined {
  try {
    return find();
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    faults.push(`${place}: ${error.message}`);
    return undefined;
  }
}

/** The settings of one owner, filled in; as they are where something is wrong with them. */
function settle(params: Params, owner: Json, place: string, faults: string[]): { readonly settings: unknown } {
  const { settings = {} } = owner;
  const parsed = settingsSchema(params).safeParse(settings);
  if (parsed.success) return { settings: parsed.data };
  for (const issue of parsed.error.issues) faults.push(`${place}: ${settingFault(params, issue, settings)}`);
  return { settings };
}

function settingFault(params: Params, issue: z.core.$ZodIssue, settings: unknown): string {
  const key = String(issue.path[0] ?? '');
  if (issue.path.length === 0 && issue.code === 'unrecognized_keys') {
    const allowed = Object.keys(params).join(', ') || 'none';
    return `there is no parameter "${issue.keys.join('", "')}". Its parameters: ${allowed}.`;
  }
  const param = issue.path.length > 0 ? params[key] : undefined;
  if (!param) return `settings – ${issueText(issue)}.`;
  const value = (settings as Json)[key];
  // A document holds the option's own word, whatever it is called elsewhere.
  const allowed = param.type === 'choice' ? param.options.join(', ') : describeRange(param);
  return `${labelOf(key, param)} is ${JSON.stringify(value)}; allowed is ${allowed}.`;
}

/** What a schema says, in words that say what is allowed. */
export function issueText(issue: z.core.$ZodIssue): string {
  if (issue.code === 'unrecognized_keys') return `unknown field "${issue.keys.join('", "')}"`;
  if (issue.code === 'too_small') return `too small; at least ${issue.minimum} is allowed`;
  if (issue.code === 'too_big') return `too large; at most ${issue.maximum} is allowed`;
  return issue.message.replace(/\.$/, '');
}
