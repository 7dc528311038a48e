import { expect, test, type Page } from '@playwright/test';
import {
  inviteList,
  openMail,
  openMailbox,
  openNewEvent,
  pastePeople,
  sendInvitations,
  signIn,
  takeIn,
} from './stage-door';

// A series, answers date by date, links and calendars from elsewhere, as the marketer and the guests meet them.
test.describe.configure({ mode: 'serial' });

const title = 'Saturn Fridays';
const list = 'Ring watchers';
/** Fridays from at least ten days ahead, when the demonstration has a series anyway. */
const fridays = Array.from({ length: 5 }, (_, week) => {
  const first = Date.now() + 10 * 86_400_000;
  const toFriday = (12 - new Date(first).getUTCDay()) % 7;
  return new Date(first + (toFriday + week * 7) * 86_400_000).toISOString().slice(0, 10);
});
const [first = '', second = '', third = '', fourth = ''] = fridays;
let page: Page;
let eventPath = '';

test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  await signIn(page, 'marketer');
});
test.afterAll(() => page.close());

const dateRow = (day: string) =>
  page
    .getByRole('region', { name: 'Dates' })
    .getByRole('listitem')
    .filter({ hasText: sayDay(day) });
const sayDay = (day: string): string => {
  const [weekday, date, month, year] = new Date(day).toUTCString().replace(',', '').split(' ');
  return `${weekday} ${Number(date)} ${month} ${year}`;
};

test('repeats in plain words: the dates as it is edited, a rule that misses its start, the rule typed', async () => {
  await page.goto('/audience');
  await page.getByLabel('Name of a new list').fill(list);
  await page.getByRole('button', { name: 'Make' }).click();
  await expect(page.getByRole('button', { name: `${list} 0` })).toBeVisible();
  await pastePeople(page, list, 'Fia <fia@rings.example>, Gil <gil@rings.example>');
  await takeIn(page, 2);

  await openNewEvent(page);
  await page.getByLabel('Title').fill(title);
  await page.getByLabel('Starts').fill(`${first}T20:30`);
  await page.getByLabel('Ends', { exact: true }).fill(`${first}T22:30`);
  await page.getByLabel('Venue').fill('Dome 2');
  const repeats = page.getByRole('combobox', { name: 'Repeats', exact: true });
  await repeats.selectOption('MONTHLY');
  const words = page.locator('cv-rule-editor strong');
  await expect(words).toHaveText(/^every month on the \d+(st|nd|rd|th)$/);
  await page.getByLabel('On which day').selectOption({ index: 1 });
  await expect(words).toHaveText(/^the \w+ Friday of every month$/);
  await repeats.selectOption('WEEKLY');
  await expect(words).toHaveText('every Friday');
  const next = page.getByRole('list', { name: 'Next dates' });
  await expect(next.getByRole('listitem')).toHaveText(
    [...fridays, null].map((day) => (day ? `${sayDay(day)} 20:30` : /20:30/)),
  );
  const rule = page.getByLabel('Rule', { exact: true });
  await rule.fill('FREQ=WEEKLY;BYDAY=SA');
  await rule.blur();
  await expect(page.getByRole('button', { name: /Move the start to/ })).toBeVisible();
  await page.getByRole('button', { name: 'Make the draft' }).click();
  await expect(page).toHaveURL(/events\/new/);
  await rule.fill('FREQ=WEEKLY;BYDAY=FRI');
  await rule.blur();
  await expect(page.getByText(/“FRI”|BYDAY/).first()).toBeVisible();
  await expect(rule).toHaveValue('FREQ=WEEKLY;BYDAY=FRI');
  await rule.fill('FREQ=WEEKLY;BYDAY=FR;COUNT=8');
  await rule.blur();
  await expect(words).toHaveText('every Friday, 8 times');
  await page.getByLabel(/^public/).check();
  await page.getByRole('button', { name: 'Make the draft' }).click();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  eventPath = new URL(page.url()).pathname.replace(/\/details$/, '');
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
});

test('shows the invitation: entry, text with its checks all kept, links that say what the event says', async () => {
  await page.goto(`${eventPath}/invitation`);
  await expect(page.getByLabel('Calendar entry')).toContainText(title);
  await page.getByRole('radio', { name: 'raw and checks' }).click();
  await expect(page.getByText('RRULE:FREQ=WEEKLY;')).toBeVisible();
  await expect(page.locator('cv-raw-calendar')).not.toContainText('✗');
  await page.getByRole('radio', { name: 'links', exact: true }).click();
  await page
    .getByRole('row', { name: /Web calendar/ })
    .getByRole('button', { name: 'Test' })
    .click();
  await expect(page.getByText('It says what the event says.')).toBeVisible();
  await page
    .getByLabel('Link to test')
    .fill(`https://calendar.example/add?title=Saturn+Fridays&start=${first.replaceAll('-', '')}T203000&details={text}`);
  await page.getByRole('button', { name: 'Test this link' }).click();
  await expect(page.getByText('It does not say what the event says.')).toBeVisible();
  for (const part of ['title', 'zone', 'end', 'place'])
    await expect(page.getByText(`✗ ${part}`, { exact: true })).toBeVisible();
  await page.getByLabel('Link to test').fill('not a link');
  await page.getByRole('button', { name: 'Test this link' }).click();
  await expect(page.getByText('✗ link', { exact: true })).toBeVisible();

  await page.getByRole('radio', { name: 'entry', exact: true }).click();
  await page.getByRole('button', { name: 'Send the test' }).click();
  await expect(page.getByText('Sent 1 test to marketer@serradabruma.example.')).toBeVisible();
  await openMail(page, 'marketer@serradabruma.example', `[Test] Invitation: ${title}`);
});

test('invites; one guest declines one date, proposes another time for the next, and passes nothing on', async () => {
  await page.goto(`${eventPath}/guests`);
  await inviteList(page, list);
  await expect(page.getByRole('row', { name: /fia@rings.example.*no answer/ })).toBeVisible();

  await openMail(page, 'fia@rings.example', `Invitation: ${title}`);
  await page.getByText('One date only, another time, somebody else').click();
  await page.getByLabel('Which date').selectOption({ label: `${second} 20:30:00` });
  await page.getByRole('button', { name: 'Decline' }).click();
  await page.getByLabel('Which date').selectOption({ label: `${third} 20:30:00` });
  await page.getByLabel('Minutes later').fill('60');
  await page.getByRole('button', { name: 'Propose that time' }).click();

  await page.goto(`${eventPath}/guests`);
  const proposals = page.getByRole('region', { name: 'Other times proposed' });
  await expect(proposals).toContainText(/Fia would come at .*21:30.* instead of .*20:30/);
  await page.getByLabel('Answers for').selectOption(`${second.replaceAll('-', '')}T203000`);
  await expect(page.getByRole('row', { name: /fia@rings.example.* no/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /gil@rings.example.*no answer/ })).toBeVisible();
  await page.getByLabel('Answers for').selectOption('');
  await expect(page.getByRole('row', { name: /fia@rings.example.*no answer/ })).toBeVisible();

  await proposals.getByRole('button', { name: 'Decline' }).click();
  await expect(page.getByText('Their calendar is told that it stays as planned.')).toBeVisible();
  await expect(proposals).toBeHidden();
  await openMail(page, 'fia@rings.example', 'About the time you proposed');
  await page.getByRole('radio', { name: 'raw', exact: true }).click();
  await expect(page.locator('cv-mail-reader')).toContainText('method=DECLINECOUNTER');
});

test('moves one date and calls off another: the notices change these dates inside the series people hold', async () => {
  await page.goto(`${eventPath}/details`);
  await dateRow(third).getByRole('button', { name: 'Edit' }).click();
  await page.getByLabel('Starts').fill(`${third}T21:00`);
  await page.getByLabel('Ends', { exact: true }).fill(`${third}T23:00`);
  await page.getByRole('button', { name: 'Save this date' }).click();
  await expect(page.getByText('Version 2 is saved.')).toBeVisible();
  await dateRow(fourth).getByRole('button', { name: 'Call off' }).click();
  await expect(dateRow(fourth)).toContainText('called off');
  await page.goto(`${eventPath}/changes`);
  await page.getByRole('button', { name: 'Send the notice' }).click();
  await expect(page.getByText('Everybody who can be reached holds version 3.')).toBeVisible();

  await openMailbox(page, 'gil@rings.example');
  await page.getByRole('radio', { name: 'Calendar', exact: true }).click();
  const dates = page.getByRole('list', { name: `Dates of ${title}` }).getByRole('listitem');
  await expect(dates.filter({ hasText: `${third} 21:00:00` })).toContainText(`instead of ${third} 20:30:00`);
  // Left out of the series, or struck out in it: both mean that it does not take place.
  await expect(dates.filter({ hasText: fourth }).and(page.locator('li:not(.off)'))).toHaveCount(0);
  await expect(dates.first()).toContainText(first);
});

test('parts the series: this date and those that follow become their own, with the same guests', async () => {
  await page.goto(`${eventPath}/details`);
  await page.getByRole('radio', { name: 'one and those that follow' }).click();
  await page.getByLabel('Which date', { exact: true }).selectOption({ index: 4 });
  await page.getByLabel('Venue').fill('Terrace');
  await page.getByRole('button', { name: 'Save this and following' }).click();
  await expect(page).not.toHaveURL(new RegExp(`${eventPath}/`));
  await page.getByRole('link', { name: 'guests' }).click();
  await expect(page.getByRole('row', { name: /gil@rings.example/ })).toBeVisible();
});

test('takes an answer on the reply page, and follows it in the guest’s own feed', async ({ browser }) => {
  const mails = await page.evaluate(async () => (await fetch('/api/backstage/mailboxes/gil@rings.example')).text());
  expect(mails).toContain(title);
  await openMail(page, 'gil@rings.example', `Invitation: ${title}`);
  await page.getByRole('radio', { name: 'plain', exact: true }).click();
  const text = (await page.locator('cv-mail-reader pre').textContent()) ?? '';
  const address = /https?:\/\/\S+\/r\/\S+/.exec(text)?.[0] ?? '';
  const guest = await browser.newPage();
  await guest.goto(address);
  await guest.getByLabel('A word to us').fill('See you');
  await guest.getByRole('button', { name: 'Yes' }).first().click();
  await expect(guest.getByRole('status')).toContainText('your answer is “yes”');
  await page.goto(`${eventPath}/guests`);
  await expect(page.getByRole('row', { name: /gil@rings.example.*yes.*See you/ })).toBeVisible();

  await guest.getByRole('link', { name: /everything you said yes to/ }).click();
  const feed = (await guest.locator('code').textContent()) ?? '';
  const read = await guest.request.get(feed);
  expect(await read.text()).toContain(`SUMMARY:${title}`);
  const again = await guest.request.get(feed, { headers: { 'if-none-match': read.headers()['etag'] ?? '' } });
  expect(again.status()).toBe(304);
  await guest.getByRole('button', { name: 'Make a new address' }).click();
  await expect(guest.locator('code')).not.toHaveText(feed);
  expect((await guest.request.get(feed)).status()).toBe(404);
  await guest.close();
});

test('gives people their own times: each gets their own entry', async () => {
  await openNewEvent(page);
  await page.getByLabel('Title').fill('Ring slots');
  await page.getByLabel('Starts').fill(`${first}T20:00`);
  await page.getByLabel('Ends', { exact: true }).fill(`${first}T20:30`);
  await page.getByLabel('Everybody has their own time').check();
  await page.getByLabel(/^public/).check();
  await page.getByRole('button', { name: 'Make the draft' }).click();
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('link', { name: 'guests' }).click();
  await page.getByRole('button', { name: 'Own times' }).click();
  await page
    .getByLabel('Rows')
    .fill(`email,start,place\nfia@rings.example,${first} 21:00,West\ngil@rings.example,${first} 25:00,East\n`);
  await page.getByRole('button', { name: 'Give these' }).click();
  await expect(page.getByText('1 person has their own time; 1 new guest.')).toBeVisible();
  await expect(page.getByText(/^line 3, start:/)).toBeVisible();
  await expect(page.getByRole('row', { name: /fia@rings.example.*21:00 Lisbon West.*no entry yet/ })).toBeVisible();
  await page.getByRole('button', { name: 'Invite people' }).click();
  await page.getByLabel('Instead, guests who hold no entry yet').check();
  await sendInvitations(page);
  await openMail(page, 'fia@rings.example', 'Invitation: Ring slots');
  await page.getByRole('radio', { name: 'calendar', exact: true }).click();
  await expect(page.locator('cv-mail-reader')).toContainText(`${first.replaceAll('-', '')}T210000`);
  await expect(page.locator('cv-mail-reader')).toContainText('LOCATION:West');
});

test('imports a calendar: what is in it first, what is not understood by line, and nothing twice', async () => {
  const event = (uid: string, start: string) =>
    `BEGIN:VEVENT\r\nUID:${uid}\r\nDTSTAMP:20260101T000000Z\r\nSUMMARY:Club night ${uid}\r\nDTSTART:${start}\r\nATTENDEE;CN=Hal:mailto:hal@rings.example\r\nEND:VEVENT\r\n`;
  const day = first.replaceAll('-', '');
  const text = `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Club//EN\r\n${event('one', `${day}T193000Z`)}${event('two', `${day.slice(0, 6)}99T193000Z`)}END:VCALENDAR\r\n`;
  await page.goto('/events/import');
  await page.getByLabel('Calendar text').fill('BEGIN:VCALENDAR');
  await page.getByRole('button', { name: 'See what is in it' }).click();
  await expect(page.getByRole('alert')).toBeVisible();
  await expect(page.getByLabel('Calendar text')).toHaveValue('BEGIN:VCALENDAR');
  await page
    .getByLabel('Calendar file')
    .setInputFiles({ name: 'club.ics', mimeType: 'text/calendar', buffer: Buffer.from(text) });
  const look = page.getByRole('button', { name: 'See what is in it' });
  if (await look.isEnabled()) await look.click();
  await expect(page.getByRole('heading', { name: /^1 event/ })).toBeVisible();
  await expect(page.getByText('1 thing not understood')).toBeVisible();
  await expect(page.getByText(/^line \d+: “Club night two” is left out, because:$/)).toBeVisible();
  await page.getByRole('button', { name: 'Import 1 event' }).click();
  await expect(page.getByText('1 new, 0 changed, 0 as before; 1 guests.')).toBeVisible();
  await page.getByLabel('Calendar text').fill(text);
  await look.click();
  await expect(page.getByRole('link', { name: 'here already' })).toBeVisible();
  await page.getByRole('button', { name: 'Import 1 event' }).click();
  await expect(page.getByText('0 new, 0 changed, 1 as before; 0 guests.')).toBeVisible();
});

test('watches a calendar address: what it finds there, and what is wrong when nobody answers', async () => {
  await page.goto(`${eventPath}/details`);
  const feed = (await page.getByRole('link', { name: /\/feed\/event\// }).getAttribute('href')) ?? '';
  await page.goto('/events/import');
  for (const [name, address] of [
    ['Our own feed', feed],
    ['Nobody', 'http://127.0.0.1:1/club.ics'],
  ] as const) {
    await page.getByRole('button', { name: 'Watch an address' }).click();
    await page.getByLabel('Name', { exact: true }).fill(name);
    await page.getByLabel(/^Address/).fill(address);
    await page.getByRole('button', { name: 'Save', exact: true }).click();
  }
  await expect(page.getByRole('row', { name: /Our own feed.*1 new, 0 changed/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Nobody answers at that address/ })).toBeVisible();
});

test('a cue on each person’s own clock is one line for all zones, says whose, and is held for all of them', async () => {
  await page.goto(`${eventPath}/countdown`);
  await page.getByRole('button', { name: 'Add a cue' }).click();
  await page.getByLabel('Name', { exact: true }).fill('At nine, wherever you are');
  await page.getByLabel('Unit').selectOption('days');
  await page.getByLabel('How many').fill('1');
  await page.getByRole('checkbox', { name: 'at a set time' }).check();
  await page.getByLabel('Clock time').fill('09:00');
  await page.getByLabel('On whose clock').selectOption('person');
  await expect(page.getByText('whose zone is not known, on the clock of Lisbon')).toBeVisible();
  await page.getByRole('checkbox', { name: 'no answer' }).check();
  await expect(page.getByText(/people get this\.|person gets this\./)).toBeVisible();
  await page.getByRole('button', { name: 'Set the cue' }).click();
  const row = page.getByRole('row').filter({ hasText: 'At nine, wherever you are' });
  await expect(row).toContainText('1 day before the start, at 09:00 on their own clock');
  await expect(row).toContainText(/on the clock of \w+/);
  await row.getByRole('button', { name: 'Hold' }).click();
  await expect(row).toContainText('stopped');
});
