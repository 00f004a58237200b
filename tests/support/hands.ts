import type { Locator, Page } from '@playwright/test';
import { expect } from './stage.ts';

/** Ways of working: by pointer, or by keyboard alone. */
export interface Hand {
  press(target: Locator): Promise<void>;
  /** Empties a field and writes into it. */
  write(field: Locator, text: string): Promise<void>;
  choose(page: Page, menu: Locator, item: string): Promise<void>;
  pick(page: Page, field: Locator, option: string): Promise<void>;
}

const byClicking: Hand = {
  press: (target) => target.click(),
  write: (field, text) => field.fill(text),
  choose: async (page, menu, item) => {
    await menu.click();
    await page.getByRole('menuitem', { name: item }).click();
  },
  pick: async (page, field, option) => {
    await field.click();
    await field.fill(option);
    await page.getByRole('option', { name: option }).first().click();
  },
};

const byKeyboard: Hand = {
  press: async (target) => {
    await target.focus();
    await target.press('Enter');
  },
  write: async (field, text) => {
    await field.focus();
    await field.press('Control+a');
    await field.pressSequentially(text);
  },
  choose: async (page, menu, item) => {
    await menu.focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('menuitem').first()).toBeFocused();
    const items = await page.getByRole('menuitem').allInnerTexts();
    const steps = items.findIndex((text) => text.startsWith(item));
    for (let step = 0; step < steps; step++) await page.keyboard.press('ArrowDown');
    await expect(page.getByRole('menuitem', { name: item })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('menu')).toBeHidden();
  },
  pick: async (page, field, option) => {
    await field.focus();
    await page.keyboard.press('Control+a');
    await page.keyboard.type(option);
    // The list is narrowed to what was typed, and its first is what Enter takes.
    await expect(field).toHaveAttribute('aria-expanded', 'true');
    const list = page.locator(`[id="${(await field.getAttribute('aria-controls')) ?? ''}"]`);
    await expect(list.getByRole('option').first()).toContainText(option);
    if ((await list.locator('.Mui-focused').count()) === 0) await page.keyboard.press('ArrowDown');
    await expect(list.locator('.Mui-focused')).toContainText(option);
    await page.keyboard.press('Enter');
  },
};

export const HANDS = { clicking: byClicking, 'keyboard alone': byKeyboard };
