import { expect, test } from '@playwright/test';
import { axeFinds } from './axe';
import { answered, openMail, signIn } from './stage-door';

test.beforeEach(({ page }) => signIn(page, 'marketer'));

test('a wording is kept, begun from in a cue, changed, and taken back to what it was', async ({ page }) => {
  await page.goto('/wording');
  await page.getByRole('link', { name: 'New wording' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Bring something warm');
  await page.getByLabel('Subject', { exact: true }).fill('Cold tonight: {{event.title}}');
  const words = page.getByRole('textbox', { name: 'Message' });
  await words.click();
  await page.keyboard.type('Doors open at 03:15. Bring a coat, {{person.firstName|friend}}.');
  // Beside it stands how somebody reads it, and what they would stumble over.
  await expect(page.getByText(/You wrote 03:15; the event starts/)).toBeVisible();
  await page.getByRole('radio', { name: 'inbox' }).click();
  await expect(page.getByText('As it stands in a list of mails')).toBeVisible();
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Bring something warm' })).toBeVisible();
  const address = page.url();

  await page.goto('/events/5/countdown');
  await page.getByRole('button', { name: 'Add a cue' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Warm');
  await page.getByLabel('Start from a kept wording or a cue').fill('something warm');
  await page.getByRole('option', { name: /Bring something warm/ }).click();
  await expect(page.getByLabel('Subject', { exact: true })).toHaveValue('Cold tonight: {{event.title}}');
  await page.getByRole('button', { name: 'Keep as a draft' }).click();
  await expect(page.getByText('Kept as a draft')).toBeVisible();

  await page.goto(address);
  await expect(page.getByRole('link', { name: 'Warm', exact: true })).toBeVisible();
  await page.getByLabel('Subject', { exact: true }).fill('Colder tonight: {{event.title}}');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await page.getByRole('button', { name: 'Version 1' }).click();
  await expect(page.getByLabel('What differs from version 1')).toContainText('Colder tonight');
  await page.getByRole('button', { name: 'Use these words again' }).click();
  await expect(page.getByLabel('Subject', { exact: true })).toHaveValue('Cold tonight: {{event.title}}');
});

test('what goes by itself says it in the house’s own words, to the mailbox, and then as it came again', async ({
  page,
}) => {
  await page.goto('/wording/registered');
  await page.getByLabel('Subject', { exact: true }).fill('Yes! {{event.title}} awaits you');
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('button', { name: 'Back to the original' })).toBeVisible();
  await page.getByLabel(/as five readers/).check();
  await page.getByRole('button', { name: 'Send the test' }).click();
  await expect(page.getByText('Sent 5 tests to marketer@serradabruma.example.')).toBeVisible();
  await openMail(page, 'marketer@serradabruma.example', '[Test: right to left] Yes!');
  await page.goto('/wording');
  await expect(page.getByRole('listitem').filter({ hasText: 'Confirmation' })).toContainText('your words');
  await page.goto('/wording/registered');
  await page.getByRole('button', { name: 'Back to the original' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Back to the original' }).click();
  await expect(page.getByLabel('Subject', { exact: true })).toHaveValue(/You are registered for/);
});

test('each design is read by day and by night, on a phone and twice as large: axe finds nothing, nothing is wider than it is', async ({
  page,
  browser,
}) => {
  test.slow();
  const mails = await page.evaluate(async () => {
    const { csrfToken } = await (await fetch('/api/session')).json();
    const settings = await (await fetch('/api/settings')).json();
    const headers = { 'content-type': 'application/json', 'x-csrf-token': csrfToken };
    const designs = ['letter', 'programme', 'ticket', 'bulletin', 'notice', 'bare'];
    // The house's own colour, and one that is too pale for words.
    const pale = ['letter', 'ticket'].map((design) => ({ design, colour: '#ffe08a' }));
    return Promise.all(
      [...designs.map((design) => ({ design, colour: '#4a2545' })), ...pale].map(async ({ design, colour }) => {
        const body = JSON.stringify({ look: { ...settings.look, design }, colour });
        const answer = await fetch('/api/settings/look/preview', { method: 'POST', headers, body });
        return { design, html: (await answer.json()).html };
      }),
    );
  });
  for (const colorScheme of ['light', 'dark'] as const) {
    const reader = await browser.newContext({ colorScheme, bypassCSP: true, viewport: { width: 640, height: 800 } });
    const sheet = await reader.newPage();
    await sheet.goto('/e/demo01');
    for (const { design, html } of mails) {
      await sheet.setContent(html);
      const ofPages = ['region', 'landmark-one-main', 'page-has-heading-one'];
      const rules = Object.fromEntries(ofPages.map((one) => [one, { enabled: false }]));
      expect.soft(await axeFinds(sheet, { rules }), `${design} ${colorScheme}`).toEqual([]);
      for (const width of [320, 640]) {
        await sheet.setViewportSize({ width, height: 800 });
        const wide = () => document.documentElement.scrollWidth - document.documentElement.clientWidth;
        expect.soft(await sheet.evaluate(wide), `${design} at ${width}`).toBeLessThanOrEqual(0);
      }
      // Letters twice as large, as programs do it: the width stays.
      await sheet.evaluate(() => document.body.style.setProperty('zoom', '2'));
      const text = () =>
        Array.from(document.querySelectorAll('h1, p, a')).every(
          (one) => one.scrollWidth <= one.clientWidth + 2 || getComputedStyle(one).display === 'inline',
        );
      expect.soft(await sheet.evaluate(text), `${design} twice as large`).toBeTruthy();
    }
    await reader.close();
  }
});

test('a picture is taken while a message is written, said in words, and found where it is used', async ({ page }) => {
  await page.goto('/wording/new');
  await page.getByLabel('Name', { exact: true }).fill('With a picture of ours');
  await page.getByLabel('Subject', { exact: true }).fill('Look up');
  await page.getByLabel('Put in a field or a block').fill('picture');
  await page.getByRole('option', { name: /^Picture/ }).click();
  // As small as a picture can be: one pixel, and it shines through.
  const dot = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
  await page
    .getByLabel('A picture from a file')
    .setInputFiles({ name: 'dot.png', mimeType: 'image/png', buffer: Buffer.from(dot, 'base64') });
  await expect(page.getByText('A picture has no words')).toBeVisible();
  await page.getByLabel('What it shows, for whoever does not see it').fill('A single star');
  await expect(page.getByText('A picture has no words')).toHaveCount(0);
  await page.getByRole('radio', { name: 'plain text' }).click();
  await expect(page.getByText('[A single star]')).toBeVisible();
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'With a picture of ours' })).toBeVisible();
  await page.goto('/wording/pictures');
  const card = page.getByRole('listitem').filter({ hasText: 'dot.png' });
  await card.getByRole('button', { name: 'Where it is used' }).click();
  await expect(card.getByRole('link', { name: 'With a picture of ours' })).toBeVisible();
});

test('another sender is proven by its own mailbox, chosen for an event, and writes', async ({ browser }) => {
  const owner = await (await browser.newContext()).newPage();
  await signIn(owner, 'owner');
  await owner.goto('/settings/other-senders');
  await owner.getByRole('button', { name: 'Add a sender' }).click();
  await owner.getByLabel('Name', { exact: true }).fill('Star club');
  await owner.getByLabel('Address', { exact: true }).fill('club@serradabruma.example');
  await owner.getByLabel(/Signature/).fill('The club on the hill');
  await owner.getByRole('button', { name: 'Keep the sender' }).click();
  await expect(owner.getByText('not proven yet: the house writes in its own name')).toBeVisible();
  await answered(owner, () => owner.getByRole('button', { name: 'Ask for its proof' }).click());
  await openMail(owner, 'club@serradabruma.example', 'write as you?');
  const [page] = await Promise.all([
    owner.waitForEvent('popup'),
    owner.locator('cv-mail-body').getByRole('link', { name: 'Yes, this address may be used' }).click(),
  ]);
  await page.getByRole('button', { name: 'Yes, it arrived' }).click();
  await expect(page.getByRole('status')).toBeVisible();
  await page.close();
  await owner.goto('/events/5/details');
  await answered(owner, () => owner.getByLabel('Written by').selectOption({ label: 'Star club' }));
  await owner.goto('/events/5/invitation');
  await owner.getByRole('radio', { name: 'email', exact: true }).click();
  await expect(owner.locator('cv-mail-body')).toContainText('The club on the hill');
  await owner.goto('/settings/other-senders');
  await owner.getByRole('button', { name: 'Look its names up' }).click();
  await expect(owner.getByText(/SPF at serradabruma.example/)).toBeVisible();
  await owner.getByRole('button', { name: 'Remove …' }).click();
  await owner.getByRole('dialog').getByRole('button', { name: 'Remove it' }).click();
  await expect(owner.getByText('None yet: everything comes from the house.')).toBeVisible();
});
