import { expect, test, type Page } from '@playwright/test';
import { dayAhead, openMail } from './stage-door';

/** Presses and fields that somebody needs: each is counted. */
function newcomer(page: Page) {
  let count = 0;
  return {
    fill: async (label: RegExp | string, text: string): Promise<void> => {
      count += 1;
      await page.getByLabel(label, { exact: typeof label === 'string' }).fill(text);
    },
    press: async (role: 'button' | 'link', name: RegExp | string): Promise<void> => {
      count += 1;
      await page.getByRole(role, { name }).click();
    },
    count: () => count,
  };
}

test('from sign-in with a hundred addresses on the clipboard to a hundred invitations sent, tried before: twelve presses at most', async ({
  page,
  browser,
}) => {
  const title = 'Walk under the Milky Way';
  const people = Array.from({ length: 100 }, (_, n) => `Walker ${n + 1} <walker${n + 1}@walk.example>`).join('\n');
  await page.goto('/sign-in');
  const { fill, press, count } = newcomer(page);
  await fill('Email address', 'marketer@serradabruma.example');
  await fill('Password', 'under-the-stars');
  await press('button', 'Sign in');
  await press('link', 'New event');
  await fill('Title', title);
  await fill('Starts', `${dayAhead(12)} 21:00`);
  await fill('Venue', 'North gate');
  await fill(/aste addresses/, people);
  await expect(page.getByText('100 addresses')).toBeVisible();
  await fill('How they agreed to hear from you', 'asked to be told of walks');
  await press('button', 'Go on to sending');
  // In one look: who, the first lines, and what was tried; every part of it is right.
  await expect(page.getByText('100 people get this.')).toBeVisible();
  await expect(page.getByText(/checks against the standards, all kept/)).toBeVisible();
  await expect(page.getByText('It says what the event says.')).toBeVisible();
  await expect(page.locator('cv-try-out li.bad')).toHaveCount(0);
  await press('button', 'Publish and invite 100 people');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('Publish, and invite 100 people?');
  await expect(dialog).toContainText(`Invitation: ${title}`);
  await press('button', 'Send to 100');
  await expect(page.getByText('1 to 50 of 100')).toBeVisible();
  expect(count()).toBeLessThanOrEqual(12);
  console.log(`a newcomer needs ${count()} presses and fields`);

  const backstage = await browser.newPage();
  await backstage.goto('/');
  await backstage.getByLabel('Email address').fill('marketer@serradabruma.example');
  await backstage.getByLabel('Password').fill('under-the-stars');
  await backstage.getByRole('button', { name: 'Sign in' }).click();
  await expect(backstage.getByRole('heading', { name: 'Call board' })).toBeVisible();
  for (const who of ['walker1', 'walker100']) await openMail(backstage, `${who}@walk.example`, `Invitation: ${title}`);
  await expect(backstage.locator('cv-mail-body')).toContainText('North gate');
  await backstage.close();
});

test('what is typed outlives a reload, asks before it is left, and is gone when that is wanted', async ({ page }) => {
  await page.goto('/sign-in');
  await page.getByLabel('Email address').fill('marketer@serradabruma.example');
  await page.getByLabel('Password').fill('under-the-stars');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('link', { name: 'New event' }).click();
  await page.getByLabel('Title').fill('Not finished');
  await page.getByLabel(/aste addresses/).fill('ana@walk.example');
  await page.reload();
  await expect(page.getByLabel('Title')).toHaveValue('Not finished');
  await expect(page.getByLabel(/aste addresses/)).toHaveValue('ana@walk.example');
  await page.getByRole('link', { name: 'Digests' }).click();
  await page.getByRole('button', { name: 'Stay' }).click();
  await expect(page.getByLabel('Title')).toHaveValue('Not finished');
  await page.getByRole('link', { name: 'Digests' }).click();
  await page.getByRole('button', { name: 'Leave and drop it' }).click();
  await expect(page.getByRole('heading', { name: 'Digests', level: 1 })).toBeVisible();
  await page.goto('/events/new');
  await expect(page.getByLabel('Title')).toHaveValue('');
});
