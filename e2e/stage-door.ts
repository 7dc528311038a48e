import { expect, type Page } from '@playwright/test';

/** Signs in as one of the demonstration's people. */
export async function signIn(page: Page, role: 'marketer' | 'owner' | 'viewer'): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Email address').fill(`${role}@serradabruma.example`);
  await page.getByLabel('Password').fill('under-the-stars');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('heading', { name: 'Call board' })).toBeVisible();
}

/** Does something and waits for the answer to the first change that it asks for: leaving at once would break it off. */
export async function answered(page: Page, act: () => Promise<unknown>): Promise<void> {
  const answer = page.waitForResponse(
    (response) => response.url().includes('/api/') && response.request().method() !== 'GET',
  );
  await act();
  await answer;
}

/** Opens a mailbox backstage, and its newest message whose subject holds the words. */
export async function openMail(page: Page, address: string, subject: string): Promise<void> {
  await openMailbox(page, address);
  await page.locator('.messages button', { hasText: subject }).first().click();
  await expect(page.getByRole('radiogroup', { name: 'View' })).toBeVisible();
}

export async function openMailbox(page: Page, address: string): Promise<void> {
  await page.goto('/backstage');
  await page.getByLabel('Find a mailbox').fill(address);
  await page.locator('.boxes button', { hasText: address }).click({ timeout: 30_000 });
}

/** Presses the clock's button and waits until it answered. */
export async function moveClock(page: Page, button: string): Promise<void> {
  if (!page.url().endsWith('/backstage')) await page.goto('/backstage');
  await answered(page, () => page.getByRole('button', { name: button }).click());
}

/** Goes from cue to cue until what the address answers holds the text; everything due on the way fires. */
export async function moveClockUntil(page: Page, path: string, text: string, presses = 60): Promise<void> {
  for (let press = 0; press < presses; press += 1) {
    await moveClock(page, 'To the next cue');
    await page.waitForTimeout(500);
    if ((await page.evaluate(async (address) => (await fetch(address)).text(), path)).includes(text)) return;
  }
  throw new Error(`${path} never said ${text}`);
}

/** A day so many days from today, as the form's boxes take it. */
export const dayAhead = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

/** A new event with everything that it can ask. */
export async function openNewEvent(page: Page): Promise<void> {
  await page.goto('/events/new');
  await page.getByRole('button', { name: /^More:/ }).click();
}

/** Adds people by pasted addresses: to a list that there is, or to a new one; they agreed. */
export async function pastePeople(page: Page, list: string | null, text: string): Promise<void> {
  await page.goto('/audience/add');
  await page.getByRole('radio', { name: 'Paste' }).click();
  await page.getByLabel(/Paste addresses/).fill(text);
  await page.getByRole('button', { name: 'Read it' }).click();
  await page.getByLabel('Into').selectOption(list === null ? 'new' : { label: list });
  await sayTheyAgreed(page);
  await page.getByRole('button', { name: 'Look it through' }).click();
}

/** How those who are brought in agreed, and when. */
export async function sayTheyAgreed(page: Page): Promise<void> {
  await page.getByLabel('To email: how they agreed').fill('signed the list at the gate');
  await page.getByLabel('On which day', { exact: true }).fill(dayAhead(-3));
}

/** Takes in what was looked through. @param joined how many join a list */
export async function takeIn(page: Page, joined: number): Promise<void> {
  await page.getByRole('button', { name: /^Take in/ }).click();
  await expect(page.getByText(`${joined} joined a list.`)).toBeVisible();
}

/** Invites one list, under Guests. */
export async function inviteList(page: Page, list: string): Promise<void> {
  await page.getByRole('button', { name: 'Invite people' }).click();
  await page.getByRole('combobox', { name: 'Lists', exact: true }).fill(list);
  await page.getByRole('option', { name: list }).click();
  await sendInvitations(page);
}

/** Sends to those who are chosen, after the last look. */
export async function sendInvitations(page: Page): Promise<void> {
  await page.getByRole('button', { name: /^Invite (?:one|[\d,]+) / }).click();
  await answered(page, () =>
    page
      .getByRole('dialog')
      .getByRole('button', { name: /^Send to/ })
      .click(),
  );
}
