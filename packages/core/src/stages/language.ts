import type { Stage } from './contract.ts';

/** The kind of every stage that is made from a script. */
export const SCRIPT_KIND = 'script';

/** A language that stages can be written in. */
export interface StageLanguage {
  readonly name: string;
  /**
   * What a source says, as plain data from which a thread that cannot read it has the stage, too. InputError for a source
   * that is no stage, with where and why.
   */
  read(source: string): unknown;
  /** The stage of what was read; its source where that is at hand. */
  stage(said: unknown, source: string | undefined): Stage;
}
