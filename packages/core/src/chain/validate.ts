import { z } from 'zod';
import { InputError } from '../errors.ts';
import { LIMITS } from '../limits.ts';
import { isKnownKind, stageOf, STAGES } from '../stages/index.ts';
import { describeRange, labelOf, rangeFault } from '../stages/params.ts';
import { showSeconds } from '../timing/display.ts';
import { resolveTime } from '../timing/tempo.ts';
import { CHAIN_FORMAT, CHAIN_VERSION, chainSchema, type ChainDocument } from './schema.ts';
import { checkName, fillNameTemplate } from './nameTemplate.ts';

/** Ranges that depend on a sample rate are checked at this one; counted samples are the only such values. */
const REFERENCE_RATE = 48000;

/** Reads a chain file. InputError names every fault by stage and parameter with what is allowed. */
export function parseChainText(text: string): ChainDocument {
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
  return parseChain(json);
}

/** Checks a chain document and fills in its defaults. */
export function parseChain(json: unknown): ChainDocument {
  const early = refuseForeign(json);
  if (early) throw new InputError(`This chain cannot be opened. ${early}`, { faults: [early] });
  const parsed = chainSchema.safeParse(json);
  const faults = parsed.success
    ? documentFaults(parsed.data)
    : parsed.error.issues.map((issue) => describe(issue, json));
  if (faults.length > 0) throw new InputError(`This chain cannot be opened. ${faults.join(' ')}`, { faults });
  return (parsed as { data: ChainDocument }).data;
}

function refuseForeign(json: unknown): string | undefined {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return 'It is not a JSON object.';
  const { format, version } = json as { format?: unknown; version?: unknown };
  if (format !== CHAIN_FORMAT) return `Its "format" is ${JSON.stringify(format)}; a chain says "${CHAIN_FORMAT}".`;
  if (version !== CHAIN_VERSION) {
    return `Its "version" is ${JSON.stringify(version)}; this program reads version ${CHAIN_VERSION}.`;
  }
  return undefined;
}

/** What the schema cannot see: ids twice, musical lengths that are out of range at the chain's tempo, names. */
function documentFaults(chain: ChainDocument): string[] {
  const faults: string[] = [];
  const seen = new Set<string>();
  chain.stages.forEach((stage, index) => {
    if (seen.has(stage.id)) faults.push(`Stage ${index + 1}: the id "${stage.id}" is used twice; give each its own.`);
    seen.add(stage.id);
    const definition = stageOf(stage.kind);
    for (const [key, param] of Object.entries(definition.params)) {
      const fault = rangeFault(param, stage.settings[key], chain.timing, REFERENCE_RATE);
      if (fault) faults.push(`Stage "${stage.id}" (${definition.title}): ${labelOf(key, param)} ${fault}.`);
    }
  });
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

type Issue = z.core.$ZodIssue;

/** A schema issue in the user's words: which stage, which parameter, what is allowed. */
function describe(issue: Issue, json: unknown): string {
  const [section, index, part, key] = issue.path;
  if (section === 'stages' && typeof index === 'number') {
    const stage = (json as { stages: Record<string, unknown>[] }).stages[index];
    const kind = String(stage?.['kind']);
    if (!isKnownKind(kind)) {
      const known = STAGES.map(({ kind: name }) => name).join(', ');
      return `Stage ${index + 1}: there is no stage of kind "${kind}". Known kinds: ${known}.`;
    }
    const definition = stageOf(kind);
    const place = `Stage ${typeof stage['id'] === 'string' ? `"${stage['id']}"` : index + 1} (${definition.title})`;
    if (part === 'settings') {
      if (issue.code === 'unrecognized_keys') {
        const allowed = Object.keys(definition.params).join(', ') || 'none';
        return `${place}: there is no parameter "${issue.keys.join('", "')}". Its parameters: ${allowed}.`;
      }
      const param = typeof key === 'string' ? definition.params[key] : undefined;
      if (param) {
        const value = (stage['settings'] as Record<string, unknown>)[key as string];
        return `${place}: ${labelOf(key as string, param)} is ${JSON.stringify(value)}; allowed is ${describeRange(param)}.`;
      }
    }
    return `${place}: ${issue.path.slice(2).join('.') || 'the stage'} – ${issueText(issue)}.`;
  }
  return `${issue.path.join('.') || 'The chain'}: ${issueText(issue)}.`;
}

function issueText(issue: Issue): string {
  if (issue.code === 'unrecognized_keys') return `unknown field "${issue.keys.join('", "')}"`;
  if (issue.code === 'too_small') return `too small; at least ${issue.minimum} is allowed`;
  if (issue.code === 'too_big') return `too large; at most ${issue.maximum} is allowed`;
  return issue.message.replace(/\.$/, '');
}

/** An empty chain to begin with. */
export function emptyChain(name: string): ChainDocument {
  return parseChain({ format: CHAIN_FORMAT, version: CHAIN_VERSION, name });
}
