import { blocksOfText } from '@convite/core';
import { createServer, type Server } from 'node:http';
import { deliver } from '../../testing/acts';
import { actor, eventFacts, openStage, specSettings, type Stage } from '../../testing/stage';
import { bringPasted } from '../audience/bring-pasted';
import { removeSegment, saveSegment, useOfSegment } from '../audience/segments';
import { createEvent, describeEvent } from '../events/events';
import { getEvent } from '../events/get-event';
import { chooseToInvite, pasteToInvite } from '../events/to-invite';
import { houseWordings } from './house-wordings';
import { planInvitations, sendInvitations } from './invite';
import { previewInvitation } from './preview-invitation';
import { tryOut } from './try-out';

describe('From pasted addresses to invitations', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
  });
  afterEach(() => stage.close());
  const draft = (joinLink = '') => createEvent(stage.context, { ...eventFacts, joinLink }, actor);
  const seen = async (id: number) => describeEvent(stage.context, await getEvent(stage.context, id));
  const send = (
    id: number,
    lists: readonly number[],
    over: { publishes?: boolean; isSure?: boolean; segments?: number[] } = {},
  ) =>
    sendInvitations(
      stage.context,
      id,
      { lists, channel: 'email', wording: houseWordings.invitation, confirmedCount: null, ...over },
      actor,
    );

  it('makes one list of what is pasted, named by itself, also when that name is taken', async () => {
    const [one, other] = [await draft(), await draft()];
    const first = await pasteToInvite(
      stage.context,
      one,
      { text: 'Ana <ana@people.example>\nnot an address', how: 'asked us to' },
      actor,
    );
    expect([first.added, first.problems.length]).toEqual([1, 1]);
    await pasteToInvite(
      stage.context,
      one,
      { text: 'bo@people.example, ana@people.example', how: 'asked us to' },
      actor,
    );
    await pasteToInvite(stage.context, other, { text: 'bo@people.example', how: 'asked us to' }, actor);
    expect((await seen(one)).toInvite.map(({ name, count }) => [name, count])).toEqual([['Guests of Dome night', 2]]);
    expect((await seen(other)).toInvite.map(({ name }) => name)).toEqual(['Guests of Dome night, 2']);
    // Who is going to be invited is looked at, nobody who was made up.
    expect((await previewInvitation(stage.context, other, null, null)).person.email).toBe('bo@people.example');
  });

  it('publishes and invites in one step, or does neither; and has nobody to invite after', async () => {
    const id = await draft();
    await pasteToInvite(stage.context, id, { text: 'ana@people.example bo@people.example', how: 'asked us to' }, actor);
    const own = (await seen(id)).toInvite.map((list) => list.id);
    await chooseToInvite(stage.context, id, { lists: [...own, stage.list, 999_999], segments: [999_999] });
    const lists = (await seen(id)).toInvite.map((list) => list.id);
    expect(lists.length).toBe(2);
    await expectAsync(send(id, lists)).toBeRejectedWith(jasmine.objectContaining({ code: 'not-published' }));
    // Nobody is on this list: nothing is sent, so nothing is published either.
    await expectAsync(send(id, [stage.list], { publishes: true })).toBeRejected();
    expect((await seen(id)).status).toBe('draft');
    expect(await send(id, lists, { publishes: true })).toBe(2);
    const after = await seen(id);
    expect([after.status, after.toInvite]).toEqual(['published', []]);
    expect((await deliver(stage)).map(({ to }) => to.address).sort()).toEqual([
      'ana@people.example',
      'bo@people.example',
    ]);
    expect((await planInvitations(stage.context, id, { lists }, 'email')).gets).toBe(0);
  });

  it('invites a segment: whoever is in it when it is sent; it cannot vanish before', async () => {
    const id = await draft();
    await bringPasted(stage.context, stage.list, { text: 'ana@people.example bo@people.example', how: 'asked' }, actor);
    const fields = {
      name: 'Of the list',
      description: '',
      conditions: { kind: 'list', lists: [stage.list] },
    } as const;
    const segment = await saveSegment(stage.context, null, fields, actor);
    await chooseToInvite(stage.context, id, { lists: [], segments: [segment, 999_999] });
    expect((await seen(id)).toInviteSegments).toEqual([{ id: segment, name: 'Of the list' }]);
    expect((await useOfSegment(stage.context, segment)).events).toEqual([{ id, title: 'Dome night' }]);
    await expectAsync(removeSegment(stage.context, segment, actor)).toBeRejectedWithError(/“Dome night”/);
    const segments = [segment];
    expect((await planInvitations(stage.context, id, { lists: [], segments }, 'email')).gets).toBe(2);
    expect(await send(id, [], { segments, publishes: true })).toBe(2);
    // Not sent yet: who comes meanwhile is in it.
    await bringPasted(stage.context, stage.list, { text: 'cy@people.example', how: 'asked' }, actor);
    expect((await deliver(stage)).length).toBe(3);
    expect((await seen(id)).toInviteSegments).toEqual([]);
    await removeSegment(stage.context, segment, actor);
  });

  it('asks again about a draft that is odd to publish', async () => {
    const id = await createEvent(
      stage.context,
      { ...eventFacts, span: { kind: 'timed', start: '2020-06-18T19:30', end: '2020-06-18T22:00' } },
      actor,
    );
    await pasteToInvite(stage.context, id, { text: 'ana@people.example', how: 'asked us to' }, actor);
    const lists = (await seen(id)).toInvite.map((list) => list.id);
    await expectAsync(send(id, lists, { publishes: true })).toBeRejectedWith(
      jasmine.objectContaining({ code: 'confirm-doubts' }),
    );
    expect(await send(id, lists, { publishes: true, isSure: true })).toBe(1);
  });

  describe('tried out before', () => {
    let server: Server;
    let address: string;
    let asked: string[] = [];
    beforeEach((done) => {
      asked = [];
      server = createServer((request, response) => {
        asked.push(request.url ?? '');
        const status = { '/room': 200, '/members': 401, '/moved': 302, '/gone': 404 }[request.url ?? ''] ?? 500;
        response.writeHead(status, status === 302 ? { location: '/room' } : {}).end('a page');
      }).listen(0, '127.0.0.1', () => {
        const at = server.address();
        address = `http://127.0.0.1:${typeof at === 'object' ? at?.port : 0}`;
        done();
      });
    });
    afterEach(() => {
      server.closeAllConnections();
      server.close();
    });
    const tried = async (joinLink: string, wording = houseWordings.invitation) => {
      const { parts } = await tryOut(stage.context, await draft(joinLink), wording);
      return (part: string) => parts.filter((one) => one.part === part).map(({ isGood, said }) => `${isGood} ${said}`);
    };

    it('says of the join link whether it answers, and asks nobody inside the house unless that is allowed', async () => {
      expect((await tried(`${address}/room`))('join-link')[0]).toContain('false The address lies inside');
      expect(asked).toEqual([]);
      await stage.context.store.house.saveSettings({ ...specSettings, allowPrivateAddresses: true });
      expect((await tried(`${address}/room`))('join-link')).toEqual(['true It answers.']);
      expect((await tried(`${address}/moved`))('join-link')).toEqual(['true It answers.']);
      expect((await tried(`${address}/members`))('join-link')).toEqual(['true It answers.']);
      expect((await tried(`${address}/gone`))('join-link')).toEqual(['false It answers 404 instead of a page.']);
      expect((await tried('http://127.0.0.1:1/'))('join-link')).toEqual(['false Nobody answers at that address.']);
    });

    it('holds entry, mail and web calendars against the event, and finds the links that were typed', async () => {
      await stage.context.store.house.saveSettings({
        ...specSettings,
        allowPrivateAddresses: true,
        postalAddress: '',
        webCalendars: [
          { name: 'Whole', pattern: 'https://calendar.example/add{?title,start,end,zone,place,description}' },
          { name: 'Poor', pattern: 'https://calendar.example/add{?title,start,name}' },
        ],
      });
      const blocks = [...houseWordings.invitation.blocks, ...blocksOfText(`Map: ${address}/gone`)];
      const parts = await tried('', { ...houseWordings.invitation, blocks });
      expect(parts('entry')[0]).toMatch(/^true \d+ checks/);
      expect(parts('mail')).toEqual([jasmine.stringContaining('false Settings has no postal address')]);
      expect(parts('link')).toEqual(['false It answers 404 instead of a page.']);
      expect(parts('web-calendar').map((line) => line.split(' ')[0])).toEqual(['true', 'false']);
      // The stage's own address answers nobody.
      expect(parts('house')[0]).toContain('false');
    });
  });
});
