import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { ScriptText, type Refusal, type Standing } from './scriptText.ts';

const AWAY: Refusal = { status: 0, detail: 'no answer' };

/** A server that has one text, and that may be away. */
class Shelf {
  standing: Standing = { revision: 1, text: 'first' };
  refusal: Refusal | undefined;
  readonly asked: string[] = [];

  readonly save = async (revision: number, text: string): Promise<Standing | Refusal> => {
    this.asked.push(text);
    await new Promise((resolve) => setTimeout(resolve, 50));
    if (this.refusal) return this.refusal;
    if (revision !== this.standing.revision) return { status: 409, detail: 'changed', script: this.standing };
    return (this.standing = { revision: revision + 1, text });
  };
}

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const open = () => {
  const shelf = new Shelf();
  return { shelf, text: new ScriptText(shelf.standing, shelf.save) };
};

describe('a text that is typed', () => {
  test('is kept half a second after the last key, once', async () => {
    const { shelf, text } = open();
    for (const typed of ['s', 'se', 'second']) {
      text.type(typed);
      await vi.advanceTimersByTimeAsync(400);
    }
    expect(shelf.asked).toEqual([]);
    expect(text.isUnkept).toBe(true);
    await vi.advanceTimersByTimeAsync(200);
    expect(shelf.asked).toEqual(['second']);
    expect(shelf.standing).toEqual({ revision: 2, text: 'second' });
    expect(text.isUnkept).toBe(false);
  });

  test('while another one is being written goes behind it', async () => {
    const { shelf, text } = open();
    text.type('second');
    const first = text.keep();
    await vi.advanceTimersByTimeAsync(10);
    text.type('third');
    const next = text.keep();
    await vi.advanceTimersByTimeAsync(1000);
    await Promise.all([first, next]);
    expect(shelf.asked).toEqual(['second', 'third']);
    expect(shelf.standing).toEqual({ revision: 3, text: 'third' });
    expect(text.state.refusal).toBeUndefined();
  });

  test('and taken back is not written', async () => {
    const { shelf, text } = open();
    text.type('second');
    text.type('first');
    await vi.advanceTimersByTimeAsync(5000);
    expect(shelf.asked).toEqual([]);
  });

  test('is written as soon as the server is back, as it is then', async () => {
    const { shelf, text } = open();
    shelf.refusal = AWAY;
    text.type('second');
    await vi.advanceTimersByTimeAsync(9000);
    expect(text.state.refusal).toEqual(AWAY);
    expect(text.isUnkept).toBe(true);
    expect(shelf.asked.length).toBeGreaterThan(1);
    shelf.refusal = undefined;
    await vi.advanceTimersByTimeAsync(4100);
    expect(shelf.standing.text).toBe('second');
    expect(text.state.refusal).toBeUndefined();
  });

  test.each([
    ['too large', 413, true],
    ['of a script that is deleted elsewhere', 404, false],
  ])('and is %s is not sent again and again', async (_, status, isUnkept) => {
    const { shelf, text } = open();
    shelf.refusal = { status, detail: 'refused' };
    text.type('second');
    await vi.advanceTimersByTimeAsync(60_000);
    expect(shelf.asked).toEqual(['second']);
    expect(text.isUnkept).toBe(isUnkept);
    shelf.refusal = undefined;
    text.type('third');
    await vi.advanceTimersByTimeAsync(1000);
    expect(shelf.standing.text).toBe('third');
  });
});

describe('another window', () => {
  test('is followed where nothing is typed here', () => {
    const { text } = open();
    text.arrive({ revision: 2, text: 'theirs' });
    expect(text.state.text).toBe('theirs');
    // Read before, it comes late.
    text.arrive({ revision: 1, text: 'first' });
    expect(text.state.text).toBe('theirs');
  });

  test('is not followed over what is typed here: it is asked which one holds, and nothing is written until then', async () => {
    const { shelf, text } = open();
    text.type('mine');
    shelf.standing = { revision: 2, text: 'theirs' };
    text.arrive(shelf.standing);
    expect(text.state.text).toBe('mine');
    await vi.advanceTimersByTimeAsync(20_000);
    expect(shelf.asked).toEqual(['mine']);
    expect(text.state.refusal?.script).toEqual({ revision: 2, text: 'theirs' });
    text.type('mine too');
    await vi.advanceTimersByTimeAsync(20_000);
    expect(shelf.asked).toEqual(['mine']);
    text.settle('mine');
    await vi.advanceTimersByTimeAsync(100);
    expect(shelf.standing).toEqual({ revision: 3, text: 'mine too' });
    expect(text.state.refusal).toBeUndefined();
  });

  test('can be taken', async () => {
    const { shelf, text } = open();
    shelf.standing = { revision: 2, text: 'theirs' };
    text.type('mine');
    await vi.advanceTimersByTimeAsync(1000);
    text.settle('theirs');
    await vi.advanceTimersByTimeAsync(5000);
    expect(text.state.text).toBe('theirs');
    expect(shelf.asked).toEqual(['mine']);
    expect(text.isUnkept).toBe(false);
    text.type('on from theirs');
    await vi.advanceTimersByTimeAsync(1000);
    expect(shelf.standing).toEqual({ revision: 3, text: 'on from theirs' });
  });
});

test.each([409, 503])(
  'of a script that is deleted here nothing is left to keep, whatever was said before: %d',
  async (status) => {
    const { shelf, text } = open();
    shelf.refusal = { status, detail: 'refused', ...(status === 409 && { script: { revision: 7, text: 'theirs' } }) };
    text.type('second');
    await vi.advanceTimersByTimeAsync(1000);
    expect(text.isUnkept).toBe(true);
    text.discard();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(shelf.asked).toEqual(['second']);
    expect(text.isUnkept).toBe(false);
  },
);

test('a file that is read again is as it is', () => {
  const text = new ScriptText({ revision: 0, text: 'file' }, () => Promise.reject(new Error('it is not written')));
  text.arrive({ revision: 0, text: 'file, changed' });
  expect(text.state.text).toBe('file, changed');
  expect(text.isUnkept).toBe(false);
});
