import type { Catalogue, NamedStage } from '../catalogue/catalogue.ts';
import { InputError, shortened } from '../model/errors.ts';
import { parseSetting } from '../params/params.ts';
import { freeId, withBranches } from './branches.ts';
import { controlText, driverOf, parseControl, takenIds, turnControl } from './panel.ts';
import type { ChainDocument, StageDocument } from './schema.ts';
import { findTarget, noSuchSetting, targetsOf, withSetting, type Target } from './targets.ts';
import { parseChain } from './validate.ts';

/** A new stage with its default settings and an id that the chain does not use yet. */
export function newStage(catalogue: Catalogue, chain: ChainDocument, named: NamedStage): StageDocument {
  const known = catalogue.for(chain);
  const definition = known.of(named);
  const { kind, script } = named;
  const taken = takenIds(chain);
  const id = freeId(script === undefined ? kind : idOfTitle(definition.title), taken);
  taken.add(id);
  const settings = Object.fromEntries(Object.entries(definition.params).map(([key, param]) => [key, param.default]));
  const mix = definition.firstMix ?? 1;
  const own = script === undefined ? {} : { script };
  const stage = { id, kind, ...own, name: '', on: true, mix, level: 0, note: '', settings };
  return definition.holds
    ? withBranches(known, { ...stage, branches: [] }, taken, definition.runs === 'live' ? 2 : 1)
    : stage;
}

/** A title as an id: `Tape wobble` is `tapeWobble`. */
export function idOfTitle(title: string): string {
  const words = title.normalize('NFKD').match(/[A-Za-z0-9]+/g) ?? [];
  const [first = 'script', ...more] = words.map((word) => word.toLowerCase());
  const id = first + more.map((word) => word[0].toUpperCase() + word.slice(1)).join('');
  return (/^[a-z]/.test(id) ? id : `script${id}`).slice(0, 32);
}

/** The name a stage goes by: the designer's, or its title. */
export function stageTitle(catalogue: Catalogue, stage: StageDocument): string {
  return stage.name || catalogue.of(stage).title;
}

/**
 * Applies one written assignment, such as `hall.decay=4beats` or `hall.mix=50%`, and checks the chain again.
 * InputError names what is allowed.
 */
export function assign(catalogue: Catalogue, chain: ChainDocument, assignment: string): ChainDocument {
  const turned = assignControl(catalogue, chain, assignment);
  if (turned) return parseChain(catalogue, turned);
  const { name, text } = sidesOf(assignment);
  const [id, key, ...more] = name.split('.');
  if (!id || !key || more.length > 0 || text === '' || /\s/.test(name))
    throw new InputError(
      `"${shortened(assignment)}" is not an assignment; write stage.parameter=value, such as hall.decay=4beats${chain.panel.length > 0 ? `, or turn a control: ${chain.panel.map(({ id }) => id).join(', ')}` : ''}.`,
    );
  const target = findTarget(catalogue, chain, `${id}.${key}`) ?? labelled(catalogue, chain, id, key);
  if (!target) throw new InputError(`"${shortened(assignment)}": ${noSuchSetting(catalogue, chain, `${id}.${key}`)}.`);
  const driver = driverOf(chain, target.target);
  if (driver)
    throw new InputError(
      `${target.owner}, ${target.label} is driven by the control "${driver.control.name}"; write ${driver.control.id}=${controlText(driver.control)}.`,
    );
  return parseChain(
    catalogue,
    withSetting(catalogue, chain, target.target, parseSetting(target.param, text, chain.timing.meter)),
  );
}

const letters = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');

/** The setting by the label it has on the page: `delay.dryWetMix`, `flanger.minimum-delay`. */
function labelled(catalogue: Catalogue, chain: ChainDocument, id: string, name: string): Target | undefined {
  return targetsOf(catalogue, chain).find((target) => target.id === id && letters(target.label) === letters(name));
}

/** What stands before and after the first equals sign. */
function sidesOf(assignment: string): { readonly name: string; readonly text: string } {
  const cut = assignment.indexOf('=');
  return cut < 0
    ? { name: assignment.trim(), text: '' }
    : { name: assignment.slice(0, cut).trim(), text: assignment.slice(cut + 1).trim() };
}

/** The chain with a control turned, for `swell=40`; undefined when the chain has no control of that id or name. */
function assignControl(catalogue: Catalogue, chain: ChainDocument, assignment: string): ChainDocument | undefined {
  const { name: side, text } = sidesOf(assignment);
  const control = chain.panel.find(({ id, name }) => id === side || name.toLowerCase() === side.toLowerCase());
  if (!control || text === '') return undefined;
  return turnControl(catalogue, chain, control.id, parseControl(control, text));
}
