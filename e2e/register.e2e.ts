import { expect, test, type Page } from '@playwright/test';
import { dayAhead, openMail, openNewEvent, signIn } from './stage-door';

// People who put themselves down, as they and the marketer meet them. The visitor's browser runs no script.
test.describe.configure({ mode: 'serial' });

const title = 'Comet Mornings';
const guest = 'nuno@comets.example';
const [first, second] = [dayAhead(9), dayAhead(16)];
const keyOf = (day: string): string => `${day.replaceAll('-', '')}T070000`;
let page: Page;
let visitor: Page;
let eventPath = '';
let publicPage = '';

test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  visitor = await browser.newPage({ javaScriptEnabled: false, viewport: { width: 390, height: 800 } });
  await signIn(page, 'marketer');
});
test.afterAll(async () => {
  await page.close();
  await visitor.close();
});

test('the marketer opens registration, one place on each date', async () => {
  await openNewEvent(page);
  await page.getByLabel('Title').fill(title);
  await page.getByLabel('Starts').fill(`${first}T07:00`);
  await page.getByLabel('Ends', { exact: true }).fill(`${first}T08:00`);
  await page.getByRole('combobox', { name: 'Repeats', exact: true }).selectOption('WEEKLY');
  await page.getByLabel('People register themselves').check();
  await page.getByLabel('Places on each date').fill('0');
  await page.keyboard.press('Tab');
  await expect(page.getByText('This must be a whole number from 1 to 100000.')).toBeVisible();
  await page.getByLabel('Places on each date').fill('1');
  await page.getByLabel('Closes, hours before the start').fill('2');
  await page.getByLabel(/^public/).check();
  await page.getByRole('button', { name: 'Make the draft' }).click();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  eventPath = new URL(page.url()).pathname.replace(/\/details$/, '');
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  publicPage = (await page.getByRole('link', { name: 'event page' }).getAttribute('href')) ?? '';
});

test('a visitor puts themselves down for one date, and the confirmation brings that date to their calendar', async () => {
  await visitor.goto(publicPage);
  await visitor.locator(`input[value="${keyOf(second)}"]`).check();
  await visitor.getByLabel('Your name').fill('Nuno');
  await visitor.getByLabel('Your email address').fill(guest);
  await visitor.getByRole('button', { name: 'Register' }).click();
  await expect(visitor.getByRole('status')).toContainText(`we wrote to ${guest}`);
  await openMail(page, guest, `Confirm your place: ${title}`);
  await page.getByRole('radio', { name: 'plain', exact: true }).click();
  const asked = await page.locator('cv-mail-reader').innerText();
  await visitor.goto(/https?:\S+\/c\/\S+/.exec(asked)?.[0] ?? '');
  await visitor.getByRole('button', { name: 'Confirm registration' }).click();
  await expect(visitor.getByRole('status')).toContainText('You are registered');
  await openMail(page, guest, `You are registered for ${title}`);
  await page.getByRole('radio', { name: 'raw', exact: true }).click();
  await expect(page.locator('cv-mail-reader')).toContainText(`RECURRENCE-ID;TZID=Europe/Lisbon:${keyOf(second)}`);
  await expect(page.locator('cv-mail-reader')).not.toContainText('RRULE:FREQ=WEEKLY');

  await page.goto(`${eventPath}/guests`);
  await expect(page.getByRole('row', { name: new RegExp(`${guest}.*by date`) })).toBeVisible();
  await page.getByLabel('Answers for').selectOption(keyOf(second));
  await expect(page.getByText('1 of 1 places taken')).toBeVisible();
  await page.getByLabel('Answers for').selectOption(keyOf(first));
  await expect(page.getByText('0 of 1 places taken')).toBeVisible();
});

test('whoever reads the page elsewhere is told the hour on their own clock; at home nothing is said twice', async ({
  browser,
}) => {
  const away = await browser.newPage({ timezoneId: 'America/New_York' });
  await away.goto(publicPage);
  await expect(away.getByText(/^07:00 in Lisbon is 0[23]:00 for you\.$/)).toBeVisible();
  await away.close();
  const home = await browser.newPage({ timezoneId: 'Europe/London' });
  await home.goto(publicPage);
  await expect(home.getByRole('heading', { name: title })).toBeVisible();
  await expect(home.getByText('for you.')).toBeHidden();
  await home.close();
});

test('a full date cannot be chosen until its place is given back on the reply page', async () => {
  await visitor.goto(publicPage);
  const wanted = visitor.locator(`input[value="${keyOf(second)}"]`);
  await expect(wanted).toBeDisabled();
  await openMail(page, guest, `You are registered for ${title}`);
  await page.getByRole('radio', { name: 'plain', exact: true }).click();
  const reader = page.locator('cv-mail-reader');
  await expect(reader).toContainText('/r/');
  const reply = /https?:\S+\/r\/\S+/.exec(await reader.innerText())?.[0] ?? '';
  await visitor.goto(reply);
  await visitor.getByRole('button', { name: 'No', exact: true }).click();
  await expect(visitor.getByRole('status')).toContainText('your answer is “no”');
  await visitor.goto(publicPage);
  await expect(wanted).toBeEnabled();
});
