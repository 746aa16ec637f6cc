/** What two states of a chain differ in, in words, setting by setting. */
import type { Catalogue } from '../catalogue/catalogue.ts';
import { printSetting } from '../params/params.ts';
import { allStages, branchName } from './branches.ts';
import { stageTitle } from './edit.ts';
import { modulatorTitle, targetsOf } from './targets.ts';
import type { ChainDocument } from './schema.ts';

export interface Difference {
  /** `Hall reverb, decay time`. */
  readonly what: string;
  /** How it is in the one and in the other state; undefined where it is not there. */
  readonly first: string | undefined;
  readonly second: string | undefined;
}

interface Part {
  readonly key: string;
  /** Key of what it is a part of: of a setting its stage or branch, of a branch its stage. */
  readonly holder?: string | undefined;
  readonly what: string;
  readonly text: string;
  /** All of it, where the text is only its gist. */
  readonly exact?: string;
}

/** In the order of the first state, then what only the second has. What is not there says so once, with all it holds. */
export function differences(catalogue: Catalogue, first: ChainDocument, second: ChainDocument): readonly Difference[] {
  const [ours, theirs] = [first, second].map((chain) => partsOf(catalogue, chain));
  const there = new Map(theirs.map((part) => [part.key, part]));
  const here = new Set(ours.map(({ key }) => key));
  const isSaid = ({ holder }: Part) => holder !== undefined && here.has(holder) !== there.has(holder);
  const found: Difference[] = [];
  for (const part of ours) {
    const other = there.get(part.key);
    if (!other && !isSaid(part)) found.push({ what: part.what, first: part.text, second: undefined });
    else if (other && (other.exact ?? other.text) !== (part.exact ?? part.text))
      found.push({ what: part.what, first: part.text, second: other.text === part.text ? 'otherwise' : other.text });
  }
  for (const part of theirs)
    if (!here.has(part.key) && !isSaid(part)) found.push({ what: part.what, first: undefined, second: part.text });
  return found;
}

function partsOf(catalogue: Catalogue, chain: ChainDocument): Part[] {
  const known = catalogue.for(chain);
  const { timing, render, about } = chain;
  const plain = (key: string, what: string, text: string): Part => ({ key: ` ${key}`, what, text });
  const count = (things: readonly unknown[], one: string) => `${things.length} ${one}${things.length === 1 ? '' : 's'}`;
  const order = allStages(chain.stages).map(({ stage }) => stageTitle(known, stage));
  return [
    plain('name', 'name', chain.name),
    plain('tempo', 'tempo', `${timing.tempo} bpm, ${timing.meter.join('/')}, of the ${timing.follows}`),
    plain('order', 'order of the stages', order.join(' → ') || 'none'),
    ...allStages(chain.stages).flatMap(({ stage, holder }): Part[] => [
      { key: stage.id, holder: holder?.branch.id, what: stageTitle(known, stage), text: 'there' },
      ...(stage.branches ?? []).map((branch) => ({
        key: branch.id,
        holder: stage.id,
        what: `${stageTitle(known, stage)}, ${branchName(known, stage, branch)}`,
        text: 'there',
      })),
    ]),
    ...chain.modulators.map((one) => ({ key: one.id, what: modulatorTitle(one), text: 'there' })),
    ...targetsOf(catalogue, chain).map(({ target, id, owner, label, param, value }) => ({
      key: target,
      holder: id,
      what: `${owner}, ${label}`,
      text: printSetting(param, value),
    })),
    ...(
      [
        ['panel', 'panel', chain.panel, 'control'],
        ['routes', 'modulation', chain.routes, 'route'],
        ['lanes', 'automation', chain.lanes, 'lane'],
        ['scripts', 'scripts', chain.scripts, 'script'],
      ] as const
    ).map(([key, what, things, one]) => ({ ...plain(key, what, count(things, one)), exact: JSON.stringify(things) })),
    { ...plain('render', 'render settings', 'as set'), exact: JSON.stringify(render) },
    { ...plain('about', 'what is said about it', 'as written'), exact: JSON.stringify(about) },
  ];
}
