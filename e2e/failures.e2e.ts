import { expect, test, type Page } from '@playwright/test';
import { answered, dayAhead, inviteList, openMail, openNewEvent, pastePeople, signIn, takeIn } from './stage-door';

// What does not arrive, as the marketer meets it: who, in whose words, what to do, and that it then arrives.
test.describe.configure({ mode: 'serial' });

const title = 'Fog Lecture';
const list = 'Fog readers';
const reader = 'iris@fog.example';
let page: Page;
let eventPath = '';

test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  await signIn(page, 'marketer');
});
test.afterAll(async () => {
  await setMail('none');
  await page.close();
});

async function setMail(state: string): Promise<void> {
  await page.goto('/backstage');
  await answered(page, () => page.getByLabel('The mail server works').selectOption(state));
}

test('an event for invited people alone has no page, until it is shown by link', async ({ browser }) => {
  await page.goto('/audience');
  await page.getByLabel('Name of a new list').fill(list);
  await page.getByRole('button', { name: 'Make' }).click();
  await expect(page.getByRole('button', { name: `${list} 0` })).toBeVisible();
  await pastePeople(page, list, `Íris <${reader}>`);
  await takeIn(page, 1);
  await openNewEvent(page);
  await page.getByLabel('Title').fill(title);
  await page.getByLabel('Starts').fill(`${dayAhead(12)}T20:30`);
  await page.getByLabel('Ends', { exact: true }).fill(`${dayAhead(12)}T22:00`);
  // Nobody is shown an event because nobody was asked.
  await expect(page.getByLabel(/^invited only/)).toBeChecked();
  await page.getByRole('button', { name: 'Make the draft' }).click();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  eventPath = new URL(page.url()).pathname.replace(/\/details$/, '');
  await page.getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByRole('dialog')).toContainText('Only who is invited may see it');
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(page.getByRole('link', { name: 'event page' })).toHaveCount(0);
  await page.getByLabel(/^by link/).check();
  const link = page.getByRole('link', { name: 'event page' });
  await expect(link).toBeVisible();
  const address = (await link.getAttribute('href')) ?? '';
  const visitor = await browser.newPage();
  expect((await visitor.goto(address))?.status()).toBe(200);
  await page.getByLabel(/^invited only/).check();
  await expect(link).toHaveCount(0);
  expect((await visitor.goto(address))?.status()).toBe(404);
  await visitor.close();
});

test('what is refused is named with the server’s words, is mended, and arrives', async () => {
  await setMail('refuse');
  await page.goto(`${eventPath}/guests`);
  await inviteList(page, list);
  await page.goto('/');
  const row = page.locator('cv-board-row', { hasText: title });
  await expect(row.getByText('failed')).toBeVisible();
  await row.locator('a.missing').click();
  await expect(page.getByRole('row', { name: new RegExp(`${reader}.*5\\.1\\.1 no such person here`) })).toBeVisible();
  await expect(page.getByText('ask the person for another one')).toBeVisible();
  const sending = page.url();

  await setMail('none');
  await page.goto('/audience');
  await page.getByLabel('Find subscribers').fill('iris@fog');
  // The list of before stays until the next is there: hers is the row with her address.
  await page
    .getByRole('row', { name: new RegExp(reader) })
    .getByRole('button', { name: 'Íris' })
    .click();
  await page.getByLabel('write to it again').check();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('This must be filled in.')).toBeVisible();
  await page.getByLabel('How did they say so?').fill('rang us up');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('“rang us up”')).toBeVisible();
  await page.goto(sending);
  await page.getByRole('button', { name: 'Try those refused again' }).click();
  await expect(page.getByText('Everybody was reached')).toBeVisible();
  await openMail(page, reader, `Invitation: ${title}`);
  // There is no page for all: the links lead to the person's own.
  await page.getByRole('radio', { name: 'plain', exact: true }).click();
  await expect(page.locator('cv-mail-reader')).not.toContainText('/e/');
});
