import { createHmac } from 'node:crypto';
import { expect, test, type Browser, type Page } from '@playwright/test';
import { openMail, signIn } from './stage-door';

// A member's whole life: invited by mail, a second factor, another role while signed in, a session ended from elsewhere, a
// forgotten password, and removed.
test.describe.configure({ mode: 'serial' });

let owner: Page;
let ada: Page;
let secret = '';
let codes: string[] = [];
const email = 'ada@serradabruma.example';
const [first, second] = ['quiet rivers bend', 'louder rivers bend'];

test.beforeAll(async ({ browser }) => {
  [owner, ada] = [await visitor(browser), await visitor(browser)];
  await signIn(owner, 'owner');
});
test.afterAll(async () => {
  await Promise.all([owner.context().close(), ada.context().close()]);
});

const visitor = async (browser: Browser): Promise<Page> => (await browser.newContext()).newPage();

/** What an authenticator shows (RFC 6238), so many half minutes from now. */
function codeNow(ahead = 0): string {
  const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';
  const bits = [...secret].map((letter) => letters.indexOf(letter).toString(2).padStart(5, '0')).join('');
  const key = Buffer.from((bits.match(/.{8}/g) ?? []).map((octet) => parseInt(octet, 2)));
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30_000) + ahead));
  const mac = createHmac('sha1', key).update(counter).digest();
  return String((mac.readUInt32BE((mac[19] ?? 0) & 15) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}

async function typePassword(page: Page, password: string): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Email address').fill(email);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
}
/** The link in the newest mail that says so, as it stands there. */
async function mailedLink(subject: string): Promise<string> {
  await openMail(owner, email, subject);
  const href = await owner.getByRole('link', { name: 'Choose a password' }).getAttribute('href');
  return (href ?? '').replace(/^https?:\/\/[^/]+/, '');
}

test('an owner invites by mail, and the person sets their own password, by a link that works once', async () => {
  await owner.goto('/settings/team');
  await owner.getByText('Invite somebody').click();
  const team = owner.getByRole('region', { name: 'Team' });
  await team.getByLabel('Name', { exact: true }).fill('Ada Rocha');
  await team.getByLabel('Email address').fill(email);
  await team.getByRole('button', { name: 'Send the invitation' }).click();
  await expect(owner.getByText(`The invitation is on its way to ${email}.`)).toBeVisible();
  await expect(team.getByText('invited, not in yet')).toBeVisible();
  const link = await mailedLink('Join Serra da Bruma Observatory');
  await ada.goto(link);
  await expect(ada.getByRole('heading', { name: 'Welcome' })).toBeVisible();
  await ada.getByLabel(/^Password/).fill('password1234');
  await ada.getByRole('button', { name: 'Take this password' }).click();
  await expect(ada.getByText('Many people have this password')).toBeVisible();
  await ada.getByLabel(/^Password/).fill(first);
  await ada.getByRole('button', { name: 'Take this password' }).click();
  await expect(ada.getByText('That is your password now')).toBeVisible();
  await ada.reload();
  await expect(ada.getByText('This link was used, or its time is over.')).toBeVisible();
  await typePassword(ada, first);
  await expect(ada.getByRole('heading', { name: 'Call board' })).toBeVisible();
});

test('a second factor is set up, asked for, and good once; a recovery code stands in for it', async () => {
  await ada.goto('/account');
  const section = ada.getByRole('region', { name: 'Second factor' });
  await section.getByLabel('Your password').fill(first);
  await section.getByRole('button', { name: 'Set it up' }).click();
  await expect(section.getByRole('img')).toBeVisible();
  secret = (await section.locator('code').innerText()).replaceAll(' ', '');
  const used = codeNow();
  await section.getByLabel('Code of the authenticator').fill(used);
  await section.getByRole('button', { name: 'Confirm' }).click();
  await expect(section.locator('li')).toHaveCount(10);
  codes = await section.locator('li').allInnerTexts();
  await section.getByRole('button', { name: 'I have them' }).click();
  await expect(section.getByText('10 of 10 recovery codes are left.')).toBeVisible();
  await ada.getByRole('button', { name: 'Sign out' }).click();

  await typePassword(ada, first);
  await ada.getByLabel('Code').fill(used);
  await ada.getByRole('button', { name: 'Go on' }).click();
  await expect(ada.getByText('This code is wrong, or was used before.')).toBeVisible();
  await ada.getByLabel('Code').fill(codeNow(1));
  await ada.getByRole('button', { name: 'Go on' }).click();
  await expect(ada.getByRole('heading', { name: 'Call board' })).toBeVisible();
});

test('another role counts at once, and a session is ended from elsewhere', async ({ browser }) => {
  await ada.goto('/events');
  await expect(ada.getByRole('link', { name: 'New event' })).toBeVisible();
  await owner.goto('/settings/team');
  await owner.getByLabel('Role of Ada Rocha').selectOption('viewer');
  await expect(owner.getByText('Ada Rocha is now viewer.')).toBeVisible();
  const refused = await ada.evaluate(async () => (await fetch('/api/lists', { method: 'POST' })).status);
  expect(refused).toBe(403);
  await ada.reload();
  await expect(ada.getByText('Ada Rocha, viewer')).toBeVisible();
  await expect(ada.getByRole('link', { name: 'New event' })).toHaveCount(0);

  const phone = await visitor(browser);
  await typePassword(phone, first);
  await phone.getByLabel('Code').fill(codes[0] ?? '');
  await phone.getByRole('button', { name: 'Go on' }).click();
  await expect(phone.getByRole('heading', { name: 'Call board' })).toBeVisible();
  await ada.goto('/account');
  await ada.getByRole('button', { name: 'End it' }).click();
  await expect(ada.getByText('It is ended.')).toBeVisible();
  await phone.goto('/events');
  await expect(phone.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await phone.context().close();
});

test('a forgotten password gets a new one by mail; who is removed is out at once', async ({ browser }) => {
  const elsewhere = await visitor(browser);
  await elsewhere.goto('/sign-in');
  await elsewhere.getByRole('button', { name: 'Forgot your password?' }).click();
  await expect(elsewhere.getByRole('heading', { name: 'A new password' })).toBeVisible();
  await elsewhere.getByLabel('Email address').fill(email);
  await elsewhere.getByRole('button', { name: 'Mail me a link' }).click();
  await expect(elsewhere.getByText('a link is on its way there')).toBeVisible();
  await elsewhere.goto(await mailedLink('A new password for Convite'));
  await elsewhere.getByLabel(/^Password/).fill(second);
  await elsewhere.getByRole('button', { name: 'Take this password' }).click();
  await expect(elsewhere.getByText('That is your password now')).toBeVisible();
  await ada.goto('/events');
  await expect(ada.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await typePassword(ada, second);
  await ada.getByLabel('Code').fill(codes[1] ?? '');
  await ada.getByRole('button', { name: 'Go on' }).click();
  await expect(ada.getByRole('heading', { name: 'Call board' })).toBeVisible();

  await owner.goto('/settings/team');
  const row = owner.getByRole('region', { name: 'Team' }).locator('.row.top', { hasText: 'Ada Rocha' });
  await row.getByRole('button', { name: 'Remove' }).click();
  await owner.getByRole('dialog').getByRole('button', { name: 'Remove' }).click();
  await expect(owner.getByText('Ada Rocha is removed.')).toBeVisible();
  await ada.goto('/events');
  await expect(ada.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await owner.goto('/settings/log');
  const log = owner.getByRole('region', { name: 'Audit log' });
  await log.getByLabel('What was done').selectOption('team');
  await expect(log.getByText('team: removed')).toBeVisible();
  await elsewhere.context().close();
});
