import { expect, test, type Locator, type Page } from '@playwright/test';
import { openMail, signIn } from './stage-door';

// How people come, who is meant, and what they have in their own hands.
test.describe.configure({ mode: 'serial' });

let page: Page;
const reader = 'nora@lantern.example';

// Of what is offered while typing; native choosers have options too.
const option = (name: RegExp): Locator => page.locator('mat-option').filter({ hasText: name });

test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  await signIn(page, 'marketer');
});
test.afterAll(() => page.close());

test('a segment is put together by choosing, reads as a sentence, and says why somebody is not in it', async () => {
  await page.goto('/audience/segments?segment=new');
  await page.getByRole('combobox', { name: 'Any of the lists' }).fill('Night');
  await option(/Night sky news/).click();
  await page.getByRole('button', { name: 'Add a group' }).click();
  await page.getByLabel('How these belong together').last().selectOption('none');
  const inner = page.locator('cv-condition-group cv-condition-group');
  await inner.getByRole('combobox', { name: 'Any of the lists' }).fill('Mem');
  await option(/Members/).click();
  await expect(page.locator('.sentence')).toHaveText('on Night sky news, but not on Members');
  await expect(page.getByText(/may be written to by email/)).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('Lantern segment');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('link', { name: /Lantern segment/ })).toBeVisible();
  // Counted beside everything else.
  await expect(page.getByRole('link', { name: /Lantern segment [\d,]+/ })).toBeVisible();
  await page.getByLabel('Find a person').fill('Lopes');
  await option(/Lopes/).first().click();
  await expect(page.getByText(/is in it\.|is not in it/)).toBeVisible();
  await page.getByText('Two beside each other').click();
  await page.getByLabel('The one').selectOption({ label: 'Lantern segment' });
  await page.getByLabel('The other').selectOption({ label: 'Members' });
  await expect(page.getByText('0 in both')).toBeVisible();
});

test('a form is made, somebody signs up on a telephone, and is in once they pressed the button in the mail', async ({
  browser,
}) => {
  await page.goto('/audience/forms?form=new');
  await page.getByLabel('Heading').fill('Lantern letters');
  await page.getByRole('combobox', { name: 'They go on the lists' }).fill('Night');
  await option(/Night sky news/).click();
  await page.getByRole('button', { name: 'Save' }).click();
  const address = (await page.locator('.place a[target=_blank]').textContent())?.trim() ?? '';
  const phone = await browser.newPage({ viewport: { width: 390, height: 844 }, javaScriptEnabled: false });
  await phone.goto(new URL(address).pathname);
  await phone.getByLabel('Your name').fill('Nora Lantern');
  await phone.getByLabel('Your email address').fill(reader);
  await phone.getByRole('button', { name: 'Sign up' }).click();
  await expect(phone.getByRole('alert')).toContainText('Tick that we may write to you');
  await phone.getByRole('checkbox').last().check();
  await phone.getByRole('button', { name: 'Sign up' }).click();
  await expect(phone.getByText(`we have written to ${reader}`)).toBeVisible();
  await openMail(page, reader, 'Sign up');
  const confirm = await page.locator('cv-mail-body').getByRole('link').first().getAttribute('href');
  await phone.goto(new URL(confirm ?? '').pathname);
  await phone.getByRole('button', { name: 'Yes, sign me up' }).click();
  await expect(phone.getByText('You are signed up.')).toBeVisible();

  await phone.getByRole('link', { name: 'What you get from us' }).click();
  await phone.getByLabel('Your name').fill('Nora');
  await phone.getByLabel('Days and times in').selectOption({ label: 'Português' });
  await phone.getByRole('button', { name: 'Save' }).click();
  await expect(phone.getByText('Guardado.')).toBeVisible();
  await page.goto('/audience');
  await page.getByLabel('Find subscribers').fill(reader);
  await page.getByRole('button', { name: 'Nora', exact: true }).click();
  const panel = page.getByRole('complementary', { name: 'Nora' });
  await expect(panel).toContainText('on the form Lantern letters');
  await panel.getByLabel('A note').fill('Came by the lantern walk');
  await panel.getByRole('button', { name: 'Note it' }).click();
  await expect(panel.getByText('Came by the lantern walk')).toBeVisible();

  await phone.getByRole('link', { name: 'Esqueçam-me' }).click();
  await phone.getByRole('button', { name: 'Sim, esqueçam-me' }).click();
  await expect(phone.getByText('Foi esquecido.')).toBeVisible();
  await page.reload();
  await page.getByLabel('Find subscribers').fill(reader);
  await expect(page.getByText('Nobody matches')).toBeVisible();
  await phone.close();
});

test('a field is made, and one that a segment asks for cannot vanish', async () => {
  await page.goto('/audience/fields');
  await page.getByLabel('Name of a new field').fill('Lantern size');
  await page.getByRole('region', { name: 'Fields' }).getByRole('button', { name: 'Make' }).click();
  const row = page.getByRole('row', { name: /Lantern size/ });
  await expect(row).toContainText('nothing');
  await row.getByRole('button', { name: 'Take out' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Take it out' }).click();
  await expect(row).toHaveCount(0);
  await page
    .getByRole('row', { name: /online/ })
    .getByRole('button', { name: 'Take out' })
    .click();
  await expect(page.getByRole('alert')).toContainText('It is used by the segment “Watches from afar”');
});
