import { InputError } from '../errors.ts';
import { stageOf } from '../stages/index.ts';
import { parseSetting } from '../stages/params.ts';
import { allStages, changeStage, freeId, idsOf, withBranches } from './branches.ts';
import type { ChainDocument, StageDocument } from './schema.ts';
import { parseChain } from './validate.ts';

/** A new stage of a kind with its default settings and an id that the chain does not use yet. */
export function newStage(chain: ChainDocument, kind: string): StageDocument {
  const definition = stageOf(kind);
  const taken = idsOf(chain);
  const id = freeId(kind, taken);
  taken.add(id);
  const settings = Object.fromEntries(Object.entries(definition.params).map(([key, param]) => [key, param.default]));
  const mix = definition.firstMix ?? 1;
  const stage = { id, kind, name: '', on: true, mix, level: 0, note: '', settings };
  return definition.holds
    ? withBranches({ ...stage, branches: [] }, taken, definition.reach === 'live' ? 2 : 1)
    : stage;
}

/** The name a stage goes by: the designer's, or its title. */
export function stageTitle(stage: StageDocument): string {
  return stage.name || stageOf(stage.kind).title;
}

/**
 * Applies one written assignment, such as `hall.decay=4beats` or `hall.mix=50%`, and checks the chain again.
 * InputError names what is allowed.
 */
export function assign(chain: ChainDocument, assignment: string): ChainDocument {
  const match = /^([^.=\s]+)\.([^.=\s]+)\s*=\s*(.+)$/.exec(assignment.trim());
  if (!match)
    throw new InputError(
      `"${assignment}" is not an assignment; write stage.parameter=value, such as hall.decay=4beats.`,
    );
  const [, id, key, text] = match;
  const placed = allStages(chain.stages);
  const stage = placed.find((candidate) => candidate.stage.id === id)?.stage;
  if (!stage) {
    const ids = placed.map((candidate) => candidate.stage.id).join(', ') || 'none';
    throw new InputError(`The chain has no stage "${id}". Its stages: ${ids}.`);
  }
  const definition = stageOf(stage.kind);
  const param = definition.params[key];
  let changed: StageDocument;
  if (param) changed = { ...stage, settings: { ...stage.settings, [key]: parseSetting(param, text) } };
  else if (key === 'mix')
    changed = {
      ...stage,
      mix: parseSetting({ type: 'ratio', default: 1, min: 0, max: 1, curve: 'linear', doc: '' }, text) as number,
    };
  else if (key === 'on')
    changed = { ...stage, on: parseSetting({ type: 'toggle', default: true, doc: '' }, text) as boolean };
  else {
    throw new InputError(
      `Stage "${id}" (${definition.title}) has no parameter "${key}". Its parameters: mix, on, ${Object.keys(definition.params).join(', ')}.`,
    );
  }
  return parseChain(changeStage(chain, id, () => changed));
}
