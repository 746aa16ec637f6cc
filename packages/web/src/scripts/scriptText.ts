import type { ScriptEntry } from '@hexenkessel/core/protocol';
import type { ProblemBody } from '../api/api.ts';
import { Subject } from '../parts/subject.ts';

/** Milliseconds after the last key until a text is kept. */
const WAIT = 500;
/** Milliseconds until what could not be kept is tried again: the server may be back any moment. */
const TRY_AGAIN = 4000;
/** Status where the server did not answer. */
const NO_ANSWER = 0;

/** A text as the server has it. */
export type Standing = Pick<ScriptEntry, 'revision' | 'text'>;

/** Why a text is not kept; with what stands there where another window was first. */
export type Refusal = Pick<ProblemBody, 'status' | 'detail'> & { readonly script?: Standing };

/** Writes a text over the one of a revision. */
export type Save = (revision: number, text: string) => Promise<Standing | Refusal>;

export interface ScriptTextState {
  readonly text: string;
  readonly standing: Standing;
  /** The last answer, where it was not that the text is kept. */
  readonly refusal: Refusal | undefined;
}

/**
 * The text of a script as it is typed, kept on the server a moment after the last key. Where another window has changed it
 * meanwhile, nothing is written until it is said which one holds. It outlives the view that shows it.
 */
export class ScriptText extends Subject<ScriptTextState> {
  private readonly save: Save;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private writing: Promise<unknown> = Promise.resolve();

  constructor(standing: Standing, save: Save) {
    super({ text: standing.text, standing, refusal: undefined });
    this.save = save;
  }

  /** True for what is still to be written; not where the script is deleted. */
  get isUnkept(): boolean {
    const { text, standing, refusal } = this.state;
    return text !== standing.text && refusal?.status !== 404;
  }

  type(text: string): void {
    if (text === this.state.text) return;
    this.change({ text });
    this.wait(WAIT);
  }

  /** Another window, or a file, may have changed it: taken over unless something else is typed here. */
  arrive(standing: Standing): void {
    const { text, standing: before } = this.state;
    const isNews = standing.revision > before.revision || (standing.revision === 0 && standing.text !== before.text);
    if (isNews && text === before.text) this.change({ text: standing.text, standing });
  }

  /** Goes on with what another window has written, or writes over it. */
  settle(which: 'mine' | 'theirs'): void {
    const { text, refusal } = this.state;
    if (!refusal?.script) return;
    this.change({
      text: which === 'mine' ? text : refusal.script.text,
      standing: refusal.script,
      refusal: undefined,
    });
    if (which === 'mine') this.wait(0);
  }

  /** Gives up what is not kept: the script is deleted. */
  discard(): void {
    clearTimeout(this.timer);
    this.change({ text: this.state.standing.text, refusal: undefined });
  }

  /** Writes it now, unless that has been done. Resolves once it is answered. */
  keep(): Promise<unknown> {
    clearTimeout(this.timer);
    this.writing = this.writing.then(async () => {
      const { text, standing, refusal } = this.state;
      if (text === standing.text || refusal?.script) return;
      const answer = await this.save(standing.revision, text);
      if ('revision' in answer) this.change({ standing: answer, refusal: undefined });
      else {
        this.change({ refusal: answer });
        // What is refused for itself is refused again.
        if (answer.status === NO_ANSWER || answer.status >= 500) this.wait(TRY_AGAIN);
      }
    });
    return this.writing;
  }

  private change(part: Partial<ScriptTextState>): void {
    this.set({ ...this.state, ...part });
  }

  private wait(milliseconds: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.keep(), milliseconds);
  }
}
