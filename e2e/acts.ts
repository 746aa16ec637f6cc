import { readFileSync } from 'node:fs';
import { expect, type Locator, type Page } from '@playwright/test';

/** How many acts a task may take, by its name in docs/tasks.md. */
export function ceilingOf(task: string): number {
  const line = readFileSync('docs/tasks.md', 'utf8')
    .split('\n')
    .find((one) => one.startsWith('|') && one.split('|')[1].trim() === task);
  if (!line) throw new Error(`docs/tasks.md has no task "${task}"`);
  return Number(line.split('|')[2]);
}

/** Does what a person does, and counts: a click, a key, a drag, an entry are one act each. */
export class Acts {
  count = 0;
  private readonly page: Page;

  constructor(page: Page) {
    this.page = page;
  }

  async click(
    name: string | RegExp,
    role: 'button' | 'tab' | 'link' | 'menuitem' | 'menuitemcheckbox' = 'button',
  ): Promise<void> {
    this.count += 1;
    const found = this.page.getByRole(role, typeof name === 'string' ? { name, exact: true } : { name });
    await found.first().click();
  }

  /** Types into a field and confirms. */
  async enter(field: string | Locator, text: string): Promise<void> {
    this.count += 1;
    const box =
      typeof field === 'string' ? this.page.getByRole('textbox', { name: field, exact: true }).first() : field;
    await box.fill(text);
    await box.press('Enter');
  }

  async choose(name: string, option: string): Promise<void> {
    this.count += 1;
    await this.page.getByRole('combobox', { name, exact: true }).selectOption({ label: option });
  }

  async key(key: string): Promise<void> {
    this.count += 1;
    await this.page.keyboard.press(key);
  }

  async drag(from: Locator, to: Locator | (() => Locator)): Promise<void> {
    this.count += 1;
    // A person takes hold of what stands still: hovering waits for that.
    await from.hover({ position: { x: 8, y: (await from.boundingBox())!.height / 2 } });
    const begins = (await from.boundingBox())!;
    await this.page.mouse.down();
    await this.page.mouse.move(begins.x - 20, begins.y + 30, { steps: 4 });
    const ends = (await (typeof to === 'function' ? to() : to).boundingBox())!;
    await this.page.mouse.move(ends.x + ends.width / 2, ends.y + ends.height / 2, { steps: 4 });
    await this.page.mouse.up();
  }

  /** Searches for a stage by what it shall do, in the search that is open, and takes the first. */
  async search(words: string): Promise<void> {
    await this.enter(this.page.getByRole('combobox', { name: 'What should happen to the sound?' }), words);
    await expect(this.page.getByRole('dialog')).toBeHidden();
  }

  within(task: string): void {
    expect(this.count, `acts of: ${task}`).toBeLessThanOrEqual(ceilingOf(task));
  }
}
