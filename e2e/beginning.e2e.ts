import { expect, test } from '@playwright/test';
import { pastePeople, takeIn } from './stage-door';

// A newcomer in a house without the demonstration: nothing there is a dead end.
test.describe.configure({ mode: 'serial' });
test.use({ baseURL: process.env['E2E_EMPTY_URL'] ?? '', timezoneId: 'America/New_York' });

test('an empty house leads its first owner to an event, and each step ticks itself', async ({ page }) => {
  await page.goto('/sign-in');
  await page.getByLabel('Email address').fill('owner@house.example');
  await page.getByLabel('Password').fill('under-the-stars');
  await page.getByRole('button', { name: 'Sign in' }).click();
  const list = page.getByRole('region', { name: 'To begin' });
  await expect(list).toContainText('To begin: 4 steps');

  // Every screen says what belongs there, and has the button that begins it.
  for (const [path, words] of [
    ['/events', 'No event is coming up. Make the first one.'],
    ['/digests', 'No digest yet.'],
    ['/audience', 'Nobody here yet.'],
  ] as const) {
    await page.goto(path);
    await expect(page.getByText(words)).toBeVisible();
  }
  await page.goto('/');

  await list.getByRole('button', { name: 'Try it with invented data' }).click();
  await expect(list).toContainText('There are invented people and events here');
  await expect(page.locator('cv-board-row').first()).toBeVisible();
  await list.getByRole('button', { name: 'Take the invented data out' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Take it out' }).click();
  await expect(list.getByRole('button', { name: 'Try it with invented data' })).toBeVisible();
  await expect(page.locator('cv-board-row')).toHaveCount(0);

  // The zone comes from the browser.
  await expect(list.getByLabel('Time zone')).toHaveValue('America/New_York');
  await list.getByRole('button', { name: 'Save' }).click();
  await expect(list.getByText('This must be filled in.')).toBeVisible();
  await list.getByLabel('Name of the house').fill('Hall of Echoes');
  await list.getByLabel('Postal address').fill('1 Echo Street, New York');
  await list.getByRole('button', { name: 'Save' }).click();
  await expect(list).toContainText('To begin: 3 steps');
  await expect(page.getByRole('banner').getByText('Hall of Echoes')).toBeVisible();

  await list.getByRole('button', { name: 'Send me a proof' }).click();
  await expect(page.getByText('A mail is on its way to owner@house.example.')).toBeVisible();
  await page.goto('/backstage');
  await page.locator('.messages button', { hasText: 'Does mail from owner@house.example arrive?' }).first().click();
  const href = await page.locator('cv-mail-body').getByRole('link', { name: 'It arrived' }).getAttribute('href');
  await page.goto(href ?? '');
  await page.getByRole('button', { name: 'Yes, it arrived' }).click();
  await expect(page.getByText('Mail from this sender leaves and arrives.')).toBeVisible();
  await page.goto('/');
  await expect(list).toContainText('To begin: 2 steps');

  await list.getByRole('link', { name: 'Add people' }).click();
  await expect(page.getByRole('heading', { name: 'Add people' })).toBeVisible();
  await pastePeople(page, null, 'Ana <ana@echo.example>\nBo <bo@echo.example>');
  await takeIn(page, 2);
  await page.goto('/');
  await expect(list).toContainText('To begin: one step');
  await list.getByRole('link', { name: 'New event' }).click();
  await page.getByLabel('Title').fill('Echo evening');
  await page.getByRole('combobox', { name: 'Lists', exact: true }).fill('Subs');
  await page.getByRole('option', { name: /Subscribers/ }).click();
  await page.getByRole('button', { name: 'Go on to sending' }).click();
  await page.getByRole('button', { name: 'Publish and invite 2 people' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Send to 2' }).click();
  await expect(page.getByRole('row', { name: /ana@echo.example/ })).toBeVisible();
  await page.goto('/');
  await expect(page.getByText('Gone out')).toBeVisible();
  await expect(list).toHaveCount(0);
});
