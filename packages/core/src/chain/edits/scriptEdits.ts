import type { Catalogue } from '../../catalogue/catalogue.ts';
import { SCRIPT_KIND } from '../../stages/language.ts';
import { changeList } from '../branches.ts';
import { changeScript as changed, withScriptStage, type ScriptText } from '../scripts.ts';
import type { ChainEdit } from './chainEdit.ts';

/** Puts a stage of a script at a place of the chain, or of a branch; the chain takes its text along. */
export function insertScript(
  catalogue: Catalogue,
  text: ScriptText,
  { branchId, index }: { readonly branchId: string | undefined; readonly index: number },
): ChainEdit {
  return {
    name: (before) => {
      const { chain, stage } = withScriptStage(catalogue, before, text);
      return `add ${catalogue.for(chain).of(stage).title}`;
    },
    change: (before) => {
      const { chain, stage } = withScriptStage(catalogue, before, text);
      return changeList(chain, branchId, (stages) => stages.toSpliced(index, 0, stage));
    },
  };
}

/** Gives a script another text: all its stages become what it says. */
export function changeScript(catalogue: Catalogue, id: string, text: string): ChainEdit {
  return {
    name: (before) => `script of ${catalogue.for(before).of({ kind: SCRIPT_KIND, script: id }).title}`,
    change: (before) => changed(catalogue, before, id, text),
  };
}
