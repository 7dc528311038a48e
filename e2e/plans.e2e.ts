import { expect, test, type Page } from '@playwright/test';
import { answered, openNewEvent, signIn } from './stage-door';

// One countdown, worked on as a whole: several cues at once, kept as a plan that another event follows, printed for a meeting.
test.describe.configure({ mode: 'serial' });

let page: Page;
const plan = 'Nights at the gate';
const paths: Record<string, string> = {};

test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  await signIn(page, 'marketer');
});
test.afterAll(() => page.close());

/** A draft so many days from now; the other walks moved the clock. */
async function makeEvent(title: string, days: number): Promise<void> {
  await openNewEvent(page);
  await page.getByLabel('Title').fill(title);
  const now = await page.evaluate(async () => ((await (await fetch('/api/strip')).json()) as { now: string }).now);
  const day = new Date(Date.parse(now) + days * 86_400_000).toISOString().slice(0, 10);
  await page.getByLabel('Starts').fill(`${day}T21:00`);
  await page.getByLabel('Ends', { exact: true }).fill(`${day}T23:00`);
  await page.getByRole('button', { name: 'Make the draft' }).click();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  paths[title] = new URL(page.url()).pathname.replace(/\/[a-z]+$/, '/countdown');
  await page.goto(paths[title]);
}

async function takePlan(name: string, count: number): Promise<void> {
  await page.getByRole('button', { name: 'Use a plan' }).click();
  await page.getByRole('button', { name, exact: true }).click();
  await page.getByRole('button', { name: `Set ${count} cues` }).click();
  await expect(page.getByText(`${count} cues set.`)).toBeVisible();
}

const cue = (name: string) => page.getByRole('row').filter({ hasText: name });
const stateOf = (name: string) => cue(name).locator('cv-state');
const pick = (name: string) => cue(name).getByRole('checkbox').check();

test('several cues are moved, kept as drafts and set again at once', async () => {
  await makeEvent('Gate night', 30);
  await takePlan('Gathering', 6);
  await page.getByRole('button', { name: 'Publish' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Publish' }).click();
  await expect(cue('Three days to go')).toContainText('3 days before the start, at 10:00');
  const pickBoth = async (): Promise<void> => {
    for (const name of ['Three days to go', 'Two weeks to go']) await pick(name);
  };
  await pickBoth();
  await page.getByLabel('How far').fill('2');
  await page.getByRole('button', { name: 'earlier' }).click();
  await expect(page.getByText('2 cues moved.')).toBeVisible();
  await expect(cue('Three days to go')).toContainText('5 days before the start, at 10:00');
  await expect(cue('Two weeks to go')).toContainText('16 days before the start, at 10:00');
  await pickBoth();
  await page.getByRole('button', { name: 'Keep as drafts' }).click();
  await expect(page.getByText('2 cues kept as drafts.')).toBeVisible();
  await expect(stateOf('Three days to go')).toHaveText(/draft/);
  await pickBoth();
  await page.getByRole('button', { name: 'Set', exact: true }).click();
  await expect(page.getByText('2 cues set.')).toBeVisible();
  await expect(stateOf('Three days to go')).toHaveText(/set/);
});

test('a countdown is kept as a plan; an event that uses it follows a change of it', async () => {
  await page.getByRole('button', { name: 'Keep as a plan' }).click();
  await page.getByLabel('Name', { exact: true }).fill(plan);
  await answered(page, () => page.getByRole('button', { name: 'Keep it' }).click());
  await makeEvent('Second gate night', 60);
  await takePlan(plan, 6);
  await expect(cue('Three days to go')).toContainText('5 days before the start, at 10:00');

  await page.goto(paths['Gate night'] ?? '');
  await pick('Three days to go');
  await page.getByLabel('How far').fill('1');
  await page.getByRole('button', { name: 'later' }).click();
  await expect(cue('Three days to go')).toContainText('4 days before the start, at 10:00');
  await page.getByRole('button', { name: 'Keep as a plan' }).click();
  await page.getByLabel('Which plan').selectOption({ label: `in place of ${plan}` });
  await page.getByRole('button', { name: 'Keep it' }).click();
  await page.getByRole('checkbox', { name: /Second gate night/ }).check();
  await answered(page, () => page.getByRole('button', { name: 'Let 1 event follow' }).click());
  await page.goto(paths['Second gate night'] ?? '');
  await expect(cue('Three days to go')).toContainText('4 days before the start, at 10:00');
});

test('what is due in a week is printed on one page', async () => {
  await page.goto('/schedule');
  await page.getByLabel('How far ahead').selectOption('7');
  await expect(page.getByRole('table').first()).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('button', { name: 'Print it' })).toBeHidden();
  const printed = (await page.pdf({ format: 'A4' })).toString('latin1');
  expect(printed.match(/\/Type\s*\/Page\b/g)?.length).toBe(1);
  await page.emulateMedia({ media: null });
});
