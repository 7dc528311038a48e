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

/** The acts, each by its name; each may fail while something is down, and is counted then. */
export function openActs({ browser, world, random, pick, inboundPorts, lists, startOfClockMs }) {
  const events = [];
  let made = 0;
  const either = () => Math.floor(random() * 2);
  const key = () => `soak-${Math.floor(random() * 1e15)}`;
  const nowMs = async () => Date.parse((await browser.call(either(), 'GET', '/api/strip')).body.now ?? startOfClockMs);
  const ok = (answer, what) => {
    if (answer.status >= 400 && answer.status !== 409 && answer.status !== 422)
      throw new Error(`${what}: ${answer.status}`);
    return answer;
  };
  const wording = { subject: 'About {{event.title}}', body: 'Dear {{person.name}}, {{event.when}}. {{link.reply}}' };
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
    if (!body.id) return;
    ok(await browser.call(either(), 'POST', `/api/events/${body.id}/publish`, { isSure: true }), 'publish');
    for (const channel of ['email', 'text'])
      ok(
        await browser.call(either(), 'POST', `/api/events/${body.id}/cues`, {
          name: `Tomorrow by ${channel}`,
          channel,
          moment: { kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'start', at: null },
          audience: notDeclined,
          subject: 'Tomorrow: {{event.title}}',
          body: 'See you at {{event.when}}',
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
    for (const answer of answers) if (answer.status === 'fulfilled') ok(answer.value, 'invitation');
  };

  const change = async () => {
    const event = pick(events);
    if (!event) return;
    const { body } = ok(await browser.call(either(), 'GET', `/api/events/${event.id}`), 'read');
    if (body.status !== 'published') return;
    event.startMs += 3_600_000;
    const edit = { facts: { ...body.facts, ...factsOf(event.startMs, event.title, true) }, basedOn: body.version };
    ok(await browser.call(either(), 'PUT', `/api/events/${event.id}`, edit), 'edit');
    const one = key();
    const notice = { wording, confirmedCount: null };
    const path = `/api/events/${event.id}/notice`;
    const answers = await Promise.allSettled([0, 1].map((at) => browser.call(at, 'POST', path, notice, one)));
    for (const answer of answers) if (answer.status === 'fulfilled') ok(answer.value, 'notice');
  };

  /** A person's calendar answers the newest entry it has. */
  const reply = async () => {
    const invitations = [...world.mails.values()].flat().filter(({ raw }) => raw.includes('METHOD:REQUEST'));
    const mail = pick(invitations.slice(-200));
    if (!mail) return;
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
    if (events.length < 6) return;
    const [event] = events.splice(Math.floor(random() * events.length), 1);
    const path = `/api/events/${event.id}/call-off`;
    const one = key();
    const answers = await Promise.allSettled(
      [0, 1].map((at) => browser.call(at, 'POST', path, { wording, confirmedCount: null }, one)),
    );
    for (const answer of answers) if (answer.status === 'fulfilled') ok(answer.value, 'call off');
  };

  return { newEvent, change, reply, moveClock, callOff };
}
