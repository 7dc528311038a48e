// What people do during the soak: by the same addresses as the interface, with the same keys, also twice at once.
import nodemailer from 'nodemailer';

const zone = 'Europe/Lisbon';
const dayMs = 86_400_000;
const wallOf = (ms) => new Date(ms).toISOString().slice(0, 16);
const notDeclined = {
  invitees: ['accepted', 'tentative', 'needs-action'],
  lists: [],
  exceptLists: [],
  exceptReplies: [],
  topics: null,
};

/** A browser of the house, signed in; asks whichever server it is told to. */
export function openBrowser(bases) {
  const jar = new Map();
  let csrf = '';
  const call = async (at, method, path, body, key) => {
    const response = await fetch(bases[at % bases.length] + path, {
      method,
      headers: {
        cookie: [...jar].map(([name, value]) => `${name}=${value}`).join('; '),
        'x-csrf-token': csrf,
        ...(body !== undefined && { 'content-type': 'application/json' }),
        ...(key && { 'idempotency-key': key }),
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
      signal: globalThis.AbortSignal.timeout(30_000),
    });
    for (const cookie of response.headers.getSetCookie()) {
      const [pair = ''] = cookie.split(';');
      jar.set(pair.slice(0, pair.indexOf('=')), pair.slice(pair.indexOf('=') + 1));
    }
    const text = await response.text();
    return { status: response.status, body: text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text };
  };
  return {
    call,
    async signIn(email, password) {
      const { status, body } = await call(0, 'POST', '/api/session', { email, password });
      if (status !== 200) throw new Error(`signing in: ${status}`);
      csrf = (body.me ?? body).csrfToken;
    },
  };
}

/** What was asked is wrong: the soak asks what nobody may, or an address is gone. */
export class Refused extends Error {}
/** Somebody else did the same, or changed it meanwhile. */
export class Overtaken extends Error {}

/** A message of one block of typed text. */
export const said = (subject, text) => ({ subject, blocks: [{ kind: 'plain', text }] });

/** Makes a list of people who agreed to email and texts, as another system does it. @returns its number */
export async function bringPeople(browser, base, { name, people }) {
  const made = await browser.call(0, 'POST', '/api/keys', {
    name: `for ${name}`,
    eventId: null,
    days: 30,
    scopes: ['lists:write', 'subscribers:write'],
  });
  const ask = async (path, body) => {
    const response = await fetch(`${base}/programs${path}`, {
      method: 'POST',
      headers: {
        authorization: `Bearer ${made.body.key}`,
        'content-type': 'application/json',
        'idempotency-key': `${name}-${path}-${body.rows?.[0]?.email ?? ''}`.replace(/[^\w-]/g, '-').slice(0, 100),
      },
      body: JSON.stringify(body),
    });
    const answer = await response.json();
    if (!response.ok) throw new Refused(`${path}: ${response.status} ${JSON.stringify(answer).slice(0, 400)}`);
    return answer;
  };
  const { id } = await ask('/lists', { name });
  const consent = { how: 'agreed for the test', on: new Date().toISOString().slice(0, 10) };
  let taken = 0;
  for (let from = 0; from < people.length; from += 500) {
    const rows = people.slice(from, from + 500).map((one) => ({
      ...one,
      lists: [id],
      agreesToEmail: true,
      ...(one.mobile && { agreesToTexts: true }),
    }));
    const { results } = await ask('/subscribers', { consent: { email: consent, text: consent }, rows });
    taken += results.filter(({ outcome }) => outcome !== 'refused').length;
  }
  if (taken !== people.length) throw new Refused(`${name}: ${taken} of ${people.length} people were taken`);
  return id;
}

/** The acts, each by its name; each may fail while something is down, and is counted then. */
export function openActs({ browser, world, random, pick, inboundPorts, lists, startOfClockMs }) {
  const events = [];
  let made = 0;
  const either = () => Math.floor(random() * 2);
  const key = () => `soak-${Math.floor(random() * 1e15)}`;
  const nowMs = async () => Date.parse((await browser.call(either(), 'GET', '/api/strip')).body.now ?? startOfClockMs);
  const ok = (answer, what) => {
    // Somebody else was faster: that is what it is about.
    if (answer.status === 409) throw new Overtaken(`${what}: ${JSON.stringify(answer.body).slice(0, 200)}`);
    if (answer.status >= 400 && answer.status < 500 && answer.status !== 429)
      throw new Refused(`${what}: ${answer.status} ${JSON.stringify(answer.body).slice(0, 400)}`);
    if (answer.status >= 400) throw new Error(`${what}: ${answer.status}`);
    return answer;
  };
  /** Of several wishes at once one is enough; what is refused is a fault of ours whoever else was faster. */
  const anyOf = (answers, what) => {
    const refused = [];
    for (const answer of answers) {
      if (answer.status !== 'fulfilled') continue;
      try {
        return ok(answer.value, what);
      } catch (error) {
        refused.push(error);
      }
    }
    throw refused.find((one) => one instanceof Refused) ?? refused[0] ?? new Error(`${what}: nobody answers`);
  };
  const wording = said('About {{event.title}}', 'Dear {{person.name}}, {{event.when}}. {{link.reply}}');
  const factsOf = (startMs, title, isDigested) => ({
    title,
    description: 'Soak',
    zone,
    span: { kind: 'timed', start: wallOf(startMs), end: wallOf(startMs + 2 * 3_600_000) },
    venue: 'Dome',
    joinLink: '',
    topics: isDigested ? ['soak'] : [],
  });

  const newEvent = async () => {
    const startMs = (await nowMs()) + dayMs * (1.2 + 2 * random());
    made += 1;
    const facts = factsOf(startMs, `Night ${made}`, true);
    const { body } = ok(await browser.call(either(), 'POST', '/api/events', { ...facts, reach: 'public' }), 'event');
    ok(await browser.call(either(), 'POST', `/api/events/${body.id}/publish`, { isSure: true }), 'publish');
    for (const channel of ['email', 'text'])
      ok(
        await browser.call(either(), 'POST', `/api/events/${body.id}/cues`, {
          name: `Tomorrow by ${channel}`,
          channel,
          moment: { kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'start', at: null },
          audience: notDeclined,
          wording: said(channel === 'email' ? 'Tomorrow: {{event.title}}' : '', 'See you at {{event.when}}'),
          isDraft: false,
        }),
        'cue',
      );
    events.push({ id: body.id, startMs, title: facts.title });
    await inviteTo(body.id);
  };

  /** The same wish twice at once, at both servers; now and then two wishes for the same people. */
  const inviteTo = async (id) => {
    const wish = { lists: [pick(lists)], channel: 'email', wording, confirmedCount: null, isSure: true };
    const one = key();
    const send = (at, wanted, by) => browser.call(at, 'POST', `/api/events/${id}/invitations`, wanted, by);
    const answers = await Promise.allSettled([send(0, wish, one), send(1, wish, one), send(either(), wish, key())]);
    anyOf(answers, 'invitation');
  };

  const change = async () => {
    const event = pick(events);
    if (!event) return 'nothing to do';
    const { body } = ok(await browser.call(either(), 'GET', `/api/events/${event.id}`), 'read');
    if (body.status !== 'published') return 'nothing to do';
    event.startMs += 3_600_000;
    const edit = { facts: { ...body.facts, ...factsOf(event.startMs, event.title, true) }, basedOn: body.version };
    ok(await browser.call(either(), 'PUT', `/api/events/${event.id}`, edit), 'edit');
    const one = key();
    // What had arrived before: somebody holds it, and has to be told.
    const isHeld = [...world.mails.values()].flat().some(({ raw }) => raw.includes(`SUMMARY:${event.title}\r\n`));
    const notice = { wording, confirmedCount: null };
    const path = `/api/events/${event.id}/notice`;
    const answers = await Promise.allSettled([0, 1].map((at) => browser.call(at, 'POST', path, notice, one)));
    try {
      anyOf(answers, 'notice');
    } catch (error) {
      // Its invitation was cut off or has not left: there is nobody to tell.
      if (!isHeld && error instanceof Refused && error.message.includes('urn:convite:nobody')) return 'nothing to do';
      throw error;
    }
  };

  /** A person's calendar answers the newest entry it has. */
  const reply = async () => {
    const invitations = [...world.mails.values()].flat().filter(({ raw }) => raw.includes('METHOD:REQUEST'));
    const mail = pick(invitations.slice(-200));
    if (!mail) return 'nothing to do';
    const text = mail.raw.replace(/=\r\n/g, '').replace(/\r\n[ \t]/g, '');
    const value = (name) => new RegExp(`^${name}[^:\\r]*:(.*)$`, 'm').exec(text)?.[1]?.replaceAll('=3D', '=') ?? '';
    const to = value('ORGANIZER').replace('mailto:', '');
    const calendar = [
      'BEGIN:VCALENDAR',
      'PRODID:-//Soak//EN',
      'VERSION:2.0',
      'METHOD:REPLY',
      'BEGIN:VEVENT',
      `UID:${value('UID')}`,
      `DTSTAMP:${new Date().toISOString().replace(/[-:]|\.\d+/g, '')}`,
      `SEQUENCE:${value('SEQUENCE')}`,
      `ATTENDEE;PARTSTAT=${pick(['ACCEPTED', 'DECLINED', 'TENTATIVE'])}:mailto:${mail.to}`,
      'END:VEVENT',
      'END:VCALENDAR',
      '',
    ].join('\r\n');
    await nodemailer
      .createTransport({ host: '127.0.0.1', port: pick(inboundPorts), secure: false, ignoreTLS: true })
      .sendMail({
        from: mail.to,
        to,
        subject: 'Re',
        text: 'x',
        alternatives: [{ contentType: 'text/calendar; method=REPLY', content: calendar }],
      });
  };

  const moveClock = async () => {
    ok(await browser.call(either(), 'POST', '/api/backstage/clock', { to: 'next' }), 'clock');
  };
  const callOff = async () => {
    if (events.length < 6) return 'nothing to do';
    const [event] = events.splice(Math.floor(random() * events.length), 1);
    const path = `/api/events/${event.id}/call-off`;
    const one = key();
    const answers = await Promise.allSettled(
      [0, 1].map((at) => browser.call(at, 'POST', path, { wording, confirmedCount: null }, one)),
    );
    anyOf(answers, 'call off');
  };

  return { newEvent, change, reply, moveClock, callOff };
}
