import type { Locator, Page } from '@playwright/test';

/** Keys and clicks of a person, counted: a chord is one key. */
export class Hands {
  keys = 0;
  clicks = 0;
  constructor(private readonly page: Page) {}

  async type(text: string): Promise<void> {
    this.keys += text.length;
    await this.page.keyboard.type(text);
  }

  async press(key: string, times = 1): Promise<void> {
    for (let each = 0; each < times; each++) {
      this.keys++;
      await this.page.keyboard.press(key);
    }
  }

  async click(what: Locator): Promise<void> {
    this.clicks++;
    await what.click();
  }

  /** Clicks a field and types over what is in it. */
  async fill(field: Locator, text: string): Promise<void> {
    this.clicks++;
    await field.click();
    await this.press('Control+a');
    await this.type(text);
  }

  /** Opens a list of choices, and picks one. */
  async choose(field: Locator, label: string): Promise<void> {
    this.clicks += 2;
    await field.selectOption({ label });
  }
}
