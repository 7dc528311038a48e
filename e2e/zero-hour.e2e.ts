import { expect, test, type Page } from '@playwright/test';
import {
  answered,
  inviteList,
  moveClockUntil,
  openMail,
  openNewEvent,
  pastePeople,
  signIn,
  takeIn,
} from './stage-door';

// A whole countdown from a plan: looked at, moved, rehearsed, held and let go on, played to its end, and read in the log.
test.describe.configure({ mode: 'serial', timeout: 240_000 });

const title = 'Night of the falling stars';
let page: Page;
let eventPath = '';

test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  await signIn(page, 'marketer');
});
test.afterAll(() => page.close());

test('an event without cues says what is unfinished; a plan lays out its countdown, with its dates before', async () => {
  await page.goto('/audience');
  await page.getByLabel('Name of a new list').fill('Stargazers');
  await answered(page, () => page.getByRole('button', { name: 'Make' }).click());
  await pastePeople(page, 'Stargazers', 'Gil Amaro <gil@gazers.example>, Rita <rita@gazers.example>');
  await takeIn(page, 2);
  await openNewEvent(page);
  await page.getByLabel('Title').fill(title);
  // The other walks moved the clock.
  const now = await page.evaluate(async () => ((await (await fetch('/api/strip')).json()) as { now: string }).now);
  const day = new Date(Date.parse(now) + 20 * 86_400_000).toISOString().slice(0, 10);
  await page.getByLabel('Starts').fill(`${day}T21:00`);
  await page.getByLabel('Ends', { exact: true }).fill(`${day}T23:00`);
  await page.getByRole('button', { name: 'Make the draft' }).click();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  eventPath = new URL(page.url()).pathname.replace(/\/[a-z]+$/, '');
  await page.getByRole('button', { name: /things? to finish/ }).click();
  await page.getByRole('link', { name: 'Nobody is reminded: there is no cue' }).click();
  await page.getByRole('button', { name: 'Use a plan' }).click();
  await page.getByRole('button', { name: 'Gathering' }).click();
  await expect(page.getByText(/2 weeks before the start, at 10:00 · /)).toBeVisible();
  await page.getByRole('button', { name: 'Set 6 cues' }).click();
  await expect(page.getByText('6 cues set.')).toBeVisible();
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(page.getByRole('row', { name: /Three days to go.* set/ })).toBeVisible();
});

test('a cue moves by keys on the rail, says what that means, and is taken back; the start is only tried', async () => {
  const cue = page.getByRole('button', { name: /^Three days to go: set/ });
  await cue.focus();
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('.saying')).toContainText('4 days before the start, at 10:00');
  await page.keyboard.press('Enter');
  const row = page.getByRole('row').filter({ hasText: 'Three days to go' });
  await expect(row).toContainText('4 days before the start, at 10:00');
  await page.getByRole('button', { name: 'Undo “Three days to go”' }).click();
  await expect(row).toContainText('3 days before the start, at 10:00');
  const start = page.getByRole('button', { name: /^The start/ });
  await start.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Another start' })).toContainText('Nothing is saved yet.');
  await page.getByRole('button', { name: 'Leave it where it is' }).click();
});

test('a rehearsal tells what comes to somebody far away, and why not', async () => {
  await page.getByRole('link', { name: 'Rehearse it' }).click();
  await page.getByLabel('Somebody like them who').selectOption('opted-out');
  await expect(page.getByText('Does not come: they opted out.').first()).toBeVisible();
  await page.getByLabel('Somebody like them who').selectOption('unanswered');
  await expect(page.getByText(/Are you coming\? Night of the falling stars/).first()).toBeVisible();
  await page.getByRole('radio', { name: 'everybody' }).click();
  await expect(page.getByText(/get .* in all;/)).toBeVisible();
  await page.goBack();
});

test('who has not answered is written to by hand, two presses from Guests, in the thread of their invitation', async () => {
  await page.goto(`${eventPath}/guests`);
  await inviteList(page, 'Stargazers');
  await openMail(page, 'gil@gazers.example', title);
  await page.getByRole('radio', { name: 'headers' }).click();
  const named = /message-id:?\s*(<\S+>)/i.exec(await page.getByRole('main').innerText())?.[1] ?? 'no name';
  await page.goto(`${eventPath}/guests`);
  await page.getByRole('button', { name: 'Write to guests' }).click();
  await page.getByRole('button', { name: 'Send to 2 people' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Send to 2' }).click();
  await expect(page.getByText('It is going out.')).toBeVisible();
  await openMail(page, 'gil@gazers.example', 'Will you come?');
  await page.getByRole('radio', { name: 'headers' }).click();
  await expect(page.getByRole('main')).toContainText(/in-reply-to/i);
  await expect(page.getByRole('main')).toContainText(named);
});

test('all of it is held and let go on; the countdown plays to its end, and the log has every message', async () => {
  await page.goto(`${eventPath}/countdown`);
  await page.getByRole('button', { name: 'Hold all' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Hold all' }).click();
  await expect(page.getByText(/All of this event is held by/)).toBeVisible();
  await expect(page.getByRole('row', { name: /Three days to go.*All of this event is held/ })).toBeVisible();
  await page.getByRole('button', { name: 'Let it go on' }).click();
  await expect(page.getByRole('row', { name: /Three days to go.* set/ })).toBeVisible();
  const id = eventPath.split('/').at(-1) ?? '';
  await moveClockUntil(page, `/api/log?event=${id}&state=sent`, 'Are you coming?');
  await openMail(page, 'gil@gazers.example', 'Are you coming?');
  await page.goto('/log');
  await page.getByLabel('Find somebody').fill('gil@gazers');
  const line = page.getByRole('row', { name: /gil@gazers.*Are you coming/ });
  // How punctual it is on a quiet machine, the worker's own specs say.
  await expect(line).toContainText(/left (in time|\d seconds later)/);
  await line.getByRole('button', { name: 'Show it' }).click();
  await expect(page.getByRole('article', { name: 'The message as it went out' })).toBeVisible();
});
