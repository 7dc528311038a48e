import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import nodemailer from 'nodemailer';
import { isOurAddress, knownAs, receiveMail } from '../services/replies/receive-mail';
import { invite } from '../testing/acts';
import { openSink } from '../testing/sink';
import { addPeople, mailDomain, openStage, publishedEvent, until, workOn } from '../testing/stage';
import { openInbound } from './inbound';

const postfix = '/usr/sbin/postfix';
const isHere = existsSync(postfix) && process.getuid?.() === 0;
const base = 24_000 + (process.pid % 10_000);
const [smtpPort, inboundPort] = [base, base + 10_001];

/** A Postfix of our own: its folders are private, it hands our domain to Convite and everything else to the sink. */
function startPostfix(folder: string, sinkPort: number): { stop(): void; log(): string } {
  const config = join(folder, 'config');
  mkdirSync(config);
  const log = join(folder, 'log');
  for (const name of ['queue', 'data']) mkdirSync(join(folder, name));
  spawnSync('chown', ['postfix', join(folder, 'data')]);
  spawnSync('chmod', ['755', folder]);
  const settings = {
    compatibility_level: '3.6',
    queue_directory: join(folder, 'queue'),
    data_directory: join(folder, 'data'),
    command_directory: '/usr/sbin',
    daemon_directory: '/usr/lib/postfix/sbin',
    mail_owner: 'postfix',
    setgid_group: 'postdrop',
    maillog_file: log,
    maillog_file_prefixes: '/tmp, /var',
    myhostname: 'relay.example',
    mydestination: '',
    alias_maps: '',
    local_recipient_maps: '',
    inet_interfaces: 'loopback-only',
    inet_protocols: 'ipv4',
    mynetworks: '127.0.0.0/8',
    relay_domains: mailDomain,
    // docs/running-it.md: what comes for our domain goes to Convite's own receiver.
    transport_maps: `inline:{ {${mailDomain} = smtp:[127.0.0.1]:${inboundPort}} }`,
    relayhost: `[127.0.0.1]:${sinkPort}`,
    smtp_tls_security_level: 'none',
    smtpd_tls_security_level: 'none',
    minimal_backoff_time: '1s',
    queue_run_delay: '1s',
    smtp_connection_cache_on_demand: 'no',
  };
  writeFileSync(
    join(config, 'main.cf'),
    Object.entries(settings)
      .map(([name, value]) => `${name} = ${value}\n`)
      .join(''),
  );
  const services = [
    `127.0.0.1:${smtpPort} inet n - n - - smtpd`,
    'pickup unix n - n 60 1 pickup',
    'cleanup unix n - n - 0 cleanup',
    'qmgr unix n - n 5 1 qmgr',
    'rewrite unix - - n - - trivial-rewrite',
    'bounce unix - - n - 0 bounce',
    'defer unix - - n - 0 bounce',
    'trace unix - - n - 0 bounce',
    'verify unix - - n - 1 verify',
    'smtp unix - - n - - smtp',
    'relay unix - - n - - smtp',
    'error unix - - n - - error',
    'retry unix - - n - - error',
    'proxymap unix - - n - - proxymap',
    'anvil unix - - n - 1 anvil',
    'scache unix - - n - 1 scache',
    'postlog unix-dgram n - n - 1 postlogd',
  ];
  writeFileSync(join(config, 'master.cf'), `${services.join('\n')}\n`);
  const started = spawnSync(postfix, ['-c', config, 'start'], { encoding: 'utf8' });
  const said = (): string => (existsSync(log) ? readFileSync(log, 'utf8') : '');
  if (started.status !== 0) throw new Error(`Postfix did not start: ${started.stderr}${said()}`);
  return { stop: () => void spawnSync(postfix, ['-c', config, 'stop']), log: said };
}

describe('a real mail server (Debian’s Postfix)', () => {
  it('takes what we send, brings back bounces and answers, and serves our own address', async () => {
    if (!isHere) return pending('not run: Debian’s postfix is not installed here, or this is not root');
    const stage = await openStage();
    const sink = await openSink();
    const folder = mkdtempSync(join(tmpdir(), 'convite-postfix-'));
    const relay = startPostfix(folder, sink.port);
    const inbound = openInbound({
      host: '127.0.0.1',
      port: inboundPort,
      relays: ['127.0.0.1'],
      authservId: 'relay.example',
      isOurs: (address) => isOurAddress(stage.context, address),
      knownAs: (address) => knownAs(stage.context, address),
      receive: (mail) => receiveMail(stage.context, mail),
      log: stage.log,
    });
    try {
      await addPeople(stage, 3);
      const event = await publishedEvent(stage);
      sink.refuse = (address) => (address.startsWith('p3@') ? { code: 550, text: '5.1.1 no such user here' } : null);
      await invite(stage, event);
      const worker = await workOn(stage, { smtpPort });
      await until('two are in their mailboxes', () => sink.mails.length === 2, 30);
      // The relay took all three, and then had to give one back: its notice ends at the delivery that it is about.
      await until(
        'the bounce came back',
        async () => (await stage.db('delivery').where({ state: 'bounced' })).length === 1,
        30,
      );
      await worker.stop();
      const [bounced] = await stage.db('subscriber').whereNotNull('bounced_at').select('email', 'bounce_text');
      expect(bounced).toEqual({
        email: 'p3@people.example',
        bounce_text: jasmine.stringContaining('no such user here'),
      });
      const [mail] = sink.mails.filter(({ to }) => to === 'p1@people.example');
      const text = (mail?.raw ?? '').replace(/=\r\n/g, '').replace(/\r\n[ \t]/g, '');
      const organizer = /ORGANIZER[^\r]*mailto:(\S+)/.exec(text)?.[1]?.replaceAll('=3D', '=') ?? '';
      expect(organizer).toBe(stage.context.links.guestAddress(1));
      const uid = (await stage.context.store.events.find(event))?.uid ?? '';
      const lines = ['BEGIN:VCALENDAR', 'METHOD:REPLY', 'BEGIN:VEVENT', `UID:${uid}`, 'DTSTAMP:20260101T120000Z'];
      const answer = [
        ...lines,
        'ATTENDEE;PARTSTAT=ACCEPTED:mailto:p1@people.example',
        'END:VEVENT',
        'END:VCALENDAR',
        '',
      ];
      const person = nodemailer.createTransport({ host: '127.0.0.1', port: smtpPort, secure: false, ignoreTLS: true });
      await person.sendMail({
        from: 'p1@people.example',
        to: organizer,
        subject: 'Accepted',
        text: 'x',
        alternatives: [{ contentType: 'text/calendar; method=REPLY', content: answer.join('\r\n') }],
      });
      await person.sendMail({
        from: 'p2@people.example',
        to: `replies@${mailDomain}`,
        subject: 'Parking?',
        text: 'Is there any?',
      });
      const reply = async (): Promise<unknown> =>
        (await stage.db('invitee').where({ event_id: event, subscriber_id: 1 }).first('reply'))?.reply;
      await until('the answer counts', async () => (await reply()) === 'accepted', 30);
      await until(
        'the letter is kept',
        async () => (await stage.context.store.letters.list('open', 5)).length === 1,
        30,
      );
    } catch (error) {
      throw new Error(`${String(error)}\n${relay.log().slice(-3000)}`, { cause: error });
    } finally {
      relay.stop();
      await inbound.close();
      await sink.close();
      await stage.close();
      rmSync(folder, { recursive: true, force: true });
    }
  }, 120_000);
});
