import { createHmac } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import { httpbis } from 'http-message-signatures';
import { webhookBody, webhookKinds, type WebhookBody, type WebhookFields } from '@convite/contract';
import { deliver, invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  openStage,
  publishedEvent,
  specSettings,
  until,
  type Stage,
} from '../../testing/stage';
import { workOn } from '../../testing/stage';
import { erasePerson } from '../audience/erase-person';
import { replyByPage } from '../replies/reply-by-page';
import { callDue } from './call-webhooks';
import { addWebhook, changeWebhook, listWebhooks, postAgain, removeWebhook, testWebhook, webhookLog } from './webhooks';

interface Posted {
  readonly body: WebhookBody;
  readonly text: string;
  readonly headers: Record<string, string>;
}

/** Another system, which answers as it is told. */
async function openOther(answer: (posted: Posted) => number = () => 204) {
  const posted: Posted[] = [];
  const server: Server = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      const text = Buffer.concat(chunks).toString('utf8');
      const headers = Object.fromEntries(Object.entries(request.headers).map(([name, value]) => [name, String(value)]));
      const one = { text, headers, body: webhookBody.parse(JSON.parse(text)) };
      const status = answer(one);
      // Hangs.
      if (status === 0) return;
      if (status < 300) posted.push(one);
      response.writeHead(status, status === 302 ? { location: '/elsewhere' } : {}).end();
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const url = `http://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}/told`;
  return {
    url,
    posted,
    close: () => {
      server.closeAllConnections();
      return new Promise((resolve) => server.close(resolve));
    },
  };
}

describe('other systems that are told of things', () => {
  let stage: Stage;
  const closing: (() => Promise<unknown>)[] = [];
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 5);
    await stage.context.store.house.saveSettings({ ...specSettings, allowPrivateAddresses: true });
  });
  afterEach(async () => {
    for (const close of closing.splice(0)) await close();
    await stage.close();
  });
  const other = async (answer?: (posted: Posted) => number) => {
    const opened = await openOther(answer);
    closing.push(opened.close);
    return opened;
  };
  const fields = (url: string, over: Partial<WebhookFields> = {}): WebhookFields => ({
    name: 'Desk',
    url,
    kinds: [...webhookKinds],
    isOn: true,
    ...over,
  });
  const said = { source: 'form', how: 'pressed the link', by: '' } as const;
  const optOut = (id: number) =>
    stage.context.store.transact((tx) => tx.consents.optOut(id, said, new Date(stage.clock.now())));
  const callAll = async (): Promise<void> => {
    while (await callDue(stage.context));
  };
  const states = async (id: number) =>
    (await webhookLog(stage.context, id, 0)).rows.map(({ state, attempts }) => `${state} ${attempts}`);

  it('are told of an opt-out, a bounce, an answer and a place, each once, signed so that another library believes it', async () => {
    const { url, posted } = await other();
    const { id, secret } = await addWebhook(stage.context, fields(url), actor);
    await optOut(1);
    await optOut(1);
    await stage.context.store.transact((tx) =>
      tx.refusals.markBounced(2, '550 5.1.1 gone', new Date(stage.clock.now())),
    );
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
    await stage.context.store.transact((tx) =>
      replyByPage(
        { store: tx, clock: stage.clock },
        { eventId: event, subscriberId: 3 },
        { occurrence: '', state: 'declined', comment: '' },
      ),
    );
    await callAll();
    expect(
      posted.map(({ body: { kind, subscriber, event: about, detail, channel } }) => [
        kind,
        subscriber?.email,
        about?.title ?? null,
        channel,
        detail,
      ]),
    ).toEqual([
      ['opt-out', 'p1@people.example', null, 'email', 'pressed the link'],
      ['bounce', 'p2@people.example', null, 'email', '550 5.1.1 gone'],
      ['reply', 'p3@people.example', 'Dome night', null, 'declined'],
    ]);
    expect(await states(id)).toEqual(['done 1', 'done 1', 'done 1']);
    for (const { headers, text } of posted) {
      const verifier = {
        id: `webhook-${id}`,
        algs: ['hmac-sha256' as const],
        verify: (data: Buffer, signature: Buffer) =>
          Promise.resolve(createHmac('sha256', secret).update(data).digest().equals(signature)),
      };
      const verified = await httpbis.verifyMessage(
        { keyLookup: () => Promise.resolve(verifier), all: true },
        { method: 'POST', url, headers },
      );
      expect(verified).toBeTrue();
      expect(headers['content-length']).toBe(String(Buffer.byteLength(text)));
    }
  });

  it('hear it again until they take it, in order, while others are told at once; then it is given up', async () => {
    let isDown = true;
    const failing = await other(() => (isDown ? 503 : 200));
    const fine = await other();
    const { id } = await addWebhook(stage.context, fields(failing.url), actor);
    await addWebhook(stage.context, fields(fine.url, { kinds: ['opt-out'] }), actor);
    await optOut(1);
    await optOut(2);
    await callAll();
    expect([fine.posted.length, failing.posted.length]).toEqual([2, 0]);
    expect(await states(id)).toEqual(['waiting 0', 'waiting 1']);
    const [told] = await listWebhooks(stage.context);
    expect([told?.failingSince === null, told?.waiting]).toEqual([false, 2]);
    for (const minutes of [1, 5]) {
      await clockTo(stage, stage.clock.now() + minutes * 60_000 + 1000);
      await callAll();
    }
    expect(await states(id)).toEqual(['waiting 0', 'waiting 3']);
    isDown = false;
    await clockTo(stage, stage.clock.now() + 31 * 60_000);
    await callAll();
    expect(failing.posted.map(({ body }) => body.subscriber?.id)).toEqual([1, 2]);
    expect((await listWebhooks(stage.context))[0]?.failingSince).toBeNull();
    isDown = true;
    await optOut(3);
    for (let attempt = 0; attempt < 9; attempt += 1) {
      await callAll();
      await clockTo(stage, stage.clock.now() + 25 * 3_600_000);
    }
    expect((await states(id))[0]).toBe('failed 8');
    // A person may have it posted again.
    isDown = false;
    const [call] = (await webhookLog(stage.context, id, 0)).rows;
    await postAgain(stage.context, id, call?.id ?? 0);
    await callAll();
    expect(failing.posted.at(-1)?.body.subscriber?.id).toBe(3);
  });

  it('are not let lead us into the house, nor on to somewhere else', async () => {
    await stage.context.store.house.saveSettings(specSettings);
    const inside = await other();
    const { id } = await addWebhook(stage.context, fields(inside.url), actor);
    await testWebhook(stage.context, id);
    await callAll();
    expect(inside.posted.length).toBe(0);
    expect((await webhookLog(stage.context, id, 0)).rows[0]?.answer).toContain('inside this house');
    await stage.context.store.house.saveSettings({ ...specSettings, allowPrivateAddresses: true });
    const leading = await other(() => 302);
    await changeWebhook(stage.context, id, fields(leading.url), actor);
    await callAll();
    expect((await webhookLog(stage.context, id, 0)).rows[0]?.answer).toBe('It answered 302.');
    expect(leading.posted.length).toBe(0);
  });

  it('know who was erased meanwhile as a number alone', async () => {
    const { url, posted } = await other();
    await addWebhook(stage.context, fields(url), actor);
    await stage.context.store.transact((tx) =>
      tx.refusals.markBounced(4, '550 <p4@people.example> is gone', new Date(stage.clock.now())),
    );
    await erasePerson(stage.context, 4, actor);
    await callAll();
    expect(posted.map(({ body }) => [body.subscriber, body.detail])).toEqual([[{ id: 4, email: '', mobile: '' }, '']]);
  });

  it('are called by the worker, one that hangs holding up nobody, and by one of two workers alone', async () => {
    const hanging = await other(() => 0);
    const fine = await other();
    await addWebhook(stage.context, fields(hanging.url), actor);
    await addWebhook(stage.context, fields(fine.url), actor);
    const workers = [await workOn(stage, {}), await workOn(stage, {})];
    await optOut(1);
    await until('the other is told', () => fine.posted.length === 1, 5);
    await new Promise((resolve) => setTimeout(resolve, 600));
    expect(fine.posted.length).toBe(1);
    await hangUp(hanging);
    await Promise.all(workers.map((worker) => worker.stop()));
  }, 30_000);

  it('are told nothing of what they did not ask for, nor while they are off, nor any more once they are gone', async () => {
    const { url, posted } = await other();
    const { id } = await addWebhook(stage.context, fields(url, { kinds: ['bounce'] }), actor);
    await optOut(1);
    await changeWebhook(stage.context, id, fields(url, { isOn: false }), actor);
    await optOut(2);
    await expectAsync(testWebhook(stage.context, id)).toBeRejectedWith(jasmine.objectContaining({ status: 409 }));
    await removeWebhook(stage.context, id, actor);
    await optOut(3);
    await callAll();
    expect(posted).toEqual([]);
    expect(await stage.db('webhook_call').select('id')).toEqual([]);
  });
});

const hangUp = (other: { close(): Promise<unknown> }): Promise<unknown> => other.close().catch(() => null);
