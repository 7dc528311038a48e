import { expect, test } from '@playwright/test';
import { answered, openMail, signIn } from './stage-door';

test.beforeEach(({ page }) => signIn(page, 'owner'));

test('puts those picked on a list, and takes that back; a list says what it is for and how it grew', async ({
  page,
}) => {
  await page.goto('/audience');
  const crew = page.getByRole('button', { name: /^Crew and friends/ });
  const before = await crew.textContent();
  // What is picked among other rows is not picked here.
  const found = page.waitForResponse((response) => response.url().includes('search=maeve'));
  await page.getByLabel('Find subscribers').fill('maeve');
  await found;
  await expect(page.getByRole('row', { name: /Maeve/ }).first()).toBeVisible();
  await expect(page.getByRole('row', { name: /João/ })).toHaveCount(0);
  await page.getByLabel('Pick all that are shown').check();
  await page.getByLabel('What to do with them').selectOption({ label: 'put on a list' });
  await page.getByLabel('Which list').selectOption({ label: 'Crew and friends' });
  await page.getByRole('button', { name: /^Do it to/ }).click();
  await expect(page.getByText(/Put on Crew and friends: [1-9]/)).toBeVisible();
  await expect(crew).not.toHaveText(before ?? '');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(crew).toHaveText(before ?? '');

  await crew.click();
  await page.getByRole('button', { name: 'About this list' }).click();
  await expect(page.getByText('▲ came')).toBeVisible();
  await page.getByLabel('What it is for').fill('Who helps on the night');
  await answered(page, () => page.getByRole('button', { name: 'Save', exact: true }).click());
  await page.reload();
  await expect(page.getByLabel('What it is for')).toHaveValue('Who helps on the night');
});

test('hands out all that is held about somebody, and erases them for good', async ({ page }) => {
  await page.goto('/audience?person=20');
  const name = await page.getByLabel('Name', { exact: true }).inputValue();
  const email = await page.getByLabel('Email', { exact: true }).inputValue();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Take it as a file' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('person-20.json');
  await page.getByRole('button', { name: 'Erase …' }).click();
  await expect(page.getByRole('heading', { name: `Erase ${name}?` })).toBeVisible();
  await page.getByRole('button', { name: 'Erase for good' }).click();
  await expect(page.getByText('Nothing of them is left but the counts.')).toBeVisible();
  await page.getByLabel('Find subscribers').fill(email);
  await expect(page.getByText(`Nobody matches “${email}”.`)).toBeVisible();
});

test('writes to some people by hand, who read it; two found to be one are put together and parted again', async ({
  page,
}) => {
  await page.goto('/audience?person=30');
  const email = await page.getByLabel('Email', { exact: true }).inputValue();
  const name = await page.getByLabel('Name', { exact: true }).inputValue();
  await page.goto('/audience?person=31');
  const other = await page.getByLabel('Email', { exact: true }).inputValue();
  await page.getByRole('button', { name: 'Is somebody else, too …' }).click();
  await page.locator('cv-person-same input').fill(email);
  await page.locator('mat-option').filter({ hasText: name }).first().click();
  await expect(page.getByRole('dialog')).toContainText('Nothing goes to the other any more');
  await page.getByRole('button', { name: 'Put them together' }).click();
  const same = page.getByRole('region', { name: 'The same person' });
  await expect(same).toContainText(email);
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByLabel('Find subscribers').fill(email);
  await expect(page.getByText(`Nobody matches “${email}”.`)).toBeVisible();

  await page.getByLabel('Find subscribers').fill(other);
  await expect(page.getByRole('row')).toHaveCount(2);
  await page.getByLabel('Pick all that are shown').check();
  await page.getByRole('button', { name: 'Write to them …' }).click();
  await page.getByLabel('Subject', { exact: true }).fill('The lantern walk is full');
  await page.getByLabel('Message', { exact: true }).fill('{{person.firstName|Friend}}, there is no room left.');
  await page.getByRole('button', { name: 'See how they read it' }).click();
  await expect(page.getByText('there is no room left.').last()).toBeVisible();
  await page.getByRole('button', { name: 'Send to 1 person' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Send to 1' }).click();
  await expect(page.getByText('It is going out.')).toBeVisible();
  await openMail(page, other, 'The lantern walk is full');
  await expect(page.locator('cv-mail-body')).toContainText('there is no room left.');

  await page.goto('/audience?person=31');
  await same.getByRole('button', { name: 'Part again' }).click();
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByLabel('Find subscribers').fill(email);
  await expect(page.getByRole('row')).toHaveCount(2);
});
