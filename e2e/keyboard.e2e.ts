import { expect, test, type Locator, type Page } from '@playwright/test';
import { dayAhead, openMail, signIn } from './stage-door';

// The jobs of the README, done by keys alone.

/** Goes on by Tab until it is there: whatever can be pressed can be reached. */
async function tabTo(page: Page, where: Locator, most = 90): Promise<void> {
  for (let press = 0; press < most; press += 1) {
    if (await where.evaluate((one) => one === document.activeElement).catch(() => false)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`never reached ${where.toString()}`);
}
async function press(page: Page, role: 'button' | 'link' | 'menuitem', name: RegExp | string): Promise<void> {
  const it = page.getByRole(role, { name }).first();
  await expect(it).toBeVisible();
  await tabTo(page, it);
  await page.keyboard.press('Enter');
}
async function type(page: Page, label: RegExp | string, text: string): Promise<void> {
  await tabTo(page, page.getByLabel(label, { exact: typeof label === 'string' }).first());
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.insertText(text);
}

test('a hundred people are invited, held back from nothing, by keys alone', async ({ page }) => {
  await page.goto('/sign-in');
  await type(page, 'Email address', 'marketer@serradabruma.example');
  await type(page, 'Password', 'under-the-stars');
  await page.keyboard.press('Enter');
  await press(page, 'link', 'New event');
  await type(page, 'Title', 'Keys at night');
  await type(page, 'Starts', `${dayAhead(15)} 21:00`);
  await type(page, 'Venue', 'South gate');
  await type(page, /aste addresses/, 'Kay <kay@keys.example>\nKit <kit@keys.example>');
  await type(page, 'How they agreed to hear from you', 'asked at the gate');
  await press(page, 'button', 'Go on to sending');
  await press(page, 'button', 'Publish and invite 2 people');
  await press(page, 'button', 'Send to 2');
  await expect(page.getByRole('row', { name: /kay@keys.example/ })).toBeVisible();

  // Picked by the space bar on its row, removed, and put back.
  const row = page.locator('tr[data-row]').first();
  await tabTo(page, row);
  await page.keyboard.press('Space');
  await expect(page.getByText('1 picked')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Escape');
  await expect(page.getByText('1 picked')).toBeHidden();
});

test('a cue is set, a firing held and set again, the clock moved, the team asked, by keys alone', async ({ page }) => {
  await signIn(page, 'owner');
  await page.goto('/events/5/countdown');
  await press(page, 'button', 'Add a cue');
  await type(page, 'Name', 'By keys');
  await press(page, 'button', 'Keep as a draft');
  await expect(page.getByRole('row', { name: /By keys.*draft/ })).toBeVisible();
  await page.goto('/');
  const held = page.getByRole('button', { name: /^Hold (?!everything|all)/ }).first();
  const name = (await held.getAttribute('aria-label'))?.replace('Hold ', '') ?? '';
  await tabTo(page, held, 160);
  await page.keyboard.press('Enter');
  await expect(page.getByText(`Held: “${name}” will not go out.`)).toBeVisible();
  await press(page, 'button', 'Set again');
  await expect(page.getByText(`“${name}” is set again.`)).toBeVisible();
  await page.goto('/settings/team');
  await expect(page.getByText('Invite somebody')).toBeVisible();
  await tabTo(page, page.getByRole('button', { name: 'Invite somebody' }));
  await page.keyboard.press('Enter');
  await type(page, 'Name', 'Kim Keys');
  await expect(page.getByRole('region', { name: 'Team' }).getByLabel('Name', { exact: true })).toHaveValue('Kim Keys');
  await page.goto('/backstage');
  await press(page, 'button', '+10 minutes');
  await expect(page.getByText('of real time')).toBeVisible();
  await openMail(page, 'kay@keys.example', 'Invitation: Keys at night');
});
