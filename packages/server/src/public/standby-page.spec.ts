import { dayBeforeCue } from '../testing/acts';
import { form, openHttpStage, pathOf, type HttpStage } from '../testing/http-stage';
import { actor, clockTo, countAll, publishedEvent } from '../testing/stage';
import { saveCue } from '../services/countdown/cues';

describe('the page of what stands by', () => {
  let http: HttpStage;
  let firing: number;
  beforeEach(async () => {
    http = await openHttpStage();
    const { stage } = http;
    const event = await publishedEvent(stage, { title: 'Dome <night>' });
    const audience = { invitees: [], lists: [stage.list], exceptLists: [], exceptReplies: [], topics: null };
    await saveCue(stage.context, event, null, dayBeforeCue({ audience, subject: 'Come <b>tomorrow</b>' }), actor);
    await countAll(stage);
    const [one] = await stage.context.store.firings.ofEvent(event);
    firing = one?.id ?? 0;
    await clockTo(stage, (one?.dueMs ?? 0) - 5 * 60_000);
  });
  afterEach(() => http.close());

  const call = (method: 'GET' | 'POST', path: string) => http.visitor().call(method, path, undefined, form);
  const state = async () => (await http.stage.context.store.firings.find(firing))?.state;

  it('says what it is and stops it by a press, which looking does not, without anybody signed in', async () => {
    const path = pathOf(http.stage.context.links.standby(firing));
    const seen = await call('GET', path);
    expect(seen.status).toBe(200);
    for (const words of ['Dome &lt;night&gt;', 'people by email', 'Come &lt;b&gt;tomorrow&lt;/b&gt;', '>Stop it<'])
      expect(seen.body).toContain(words);
    expect(await state()).toBe('set');
    expect((await call('POST', path)).body).toContain('It is stopped.');
    expect(await state()).toBe('stopped');
    const again = await call('POST', path);
    expect([again.status, again.body.includes('Too late')]).toEqual([409, true]);
    expect((await call('GET', path)).body).not.toContain('<button>');
    expect((await http.stage.context.store.firings.find(firing))?.heldBy).toBe('the standby link');
  });

  it('is there for nobody who guesses, and says so where it was a test', async () => {
    const { links } = http.stage.context;
    const path = pathOf(links.standby(firing));
    for (const forged of [path.replace(/-./, '-x'), `/h/${firing}`, pathOf(links.standby(9999)), '/h/x'])
      for (const method of ['GET', 'POST'] as const)
        expect((await call(method, forged)).status)
          .withContext(forged)
          .toBe(404);
    expect((await call('GET', pathOf(links.standby(0)))).body).toContain('This was a test');
    expect(await state()).toBe('set');
  });
});
