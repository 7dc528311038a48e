import type { Knex } from 'knex';
import { plainDocument, blankFacts } from '@convite/core';
import { sized } from '../bench-size';

/** What a scale database holds, with its lists by size. */
export interface Scale {
  readonly people: number;
  readonly deliveries: number;
  readonly events: number;
  readonly guestsOfEach: number;
  /** Lists of fifty, of a tenth of all, and of all. */
  readonly lists: { readonly few: number; readonly some: number; readonly all: number };
}

const events = sized(200, 60);
const fifty = 50;

/**
 * Fills an empty database with people, guests, cues and a past, straight in SQL, as a house has it after some years: each event
 * has five cues to come and the past that its share of the deliveries makes.
 */
export async function fillScale(db: Knex, people: number, deliveries: number): Promise<Scale> {
  const guestsOfEach = Math.min(5000, Math.floor(people / events));
  const raw = (statement: string, bindings: readonly (string | number | Date)[] = []) =>
    db.raw(statement, [...bindings]);
  await raw(
    `insert into subscriber (id, email, name, mobile, zone, text_consent, created_at)
     select seq, concat('p', seq, '@people.example'), concat(elt(1 + seq % 5, 'Ana', 'Bram', 'Cleo', 'Dora', 'Emil'), ' ', elt(1 + seq % 7, 'Arvor', 'Bosque', 'Cidra', 'Duna', 'Eira', 'Fonte', 'Gruta'), seq),
            if(seq % 3 = 0, concat('+4477', lpad(seq, 8, '0')), ''), elt(1 + seq % 3, 'Europe/Lisbon', 'America/New_York', 'Asia/Tokyo'), seq % 3 = 0, now(3)
     from seq_1_to_${people}`,
  );
  await raw(
    `insert into consent (subscriber_id, channel, is_given, how, by_name, source, at)
     select seq * 3, 'text', true, 'on paper', '', 'form', now(3) from seq_1_to_${Math.floor(people / 3)}`,
  );
  const [few = 0, some = 0, all = 0] = await insertLists(db);
  const step = Math.floor(people / fifty);
  await raw(`insert into list_member (list_id, subscriber_id) select ?, seq * ? from seq_1_to_${fifty}`, [few, step]);
  await raw(
    `insert into list_member (list_id, subscriber_id) select ?, seq * 10 from seq_1_to_${Math.floor(people / 10)}`,
    [some],
  );
  await raw(`insert into list_member (list_id, subscriber_id) select ?, seq from seq_1_to_${people}`, [all]);
  await raw(
    'update list l set size = (select count(*) from list_member m where m.list_id = l.id), counted_size = size',
  );
  await insertEvents(db);
  await raw(
    `insert into invitee (event_id, subscriber_id, channel, reply, invited_at, holds_version)
     select e.id, 1 + (e.id * 997 + s.seq * 199) % ?, 'email', elt(1 + s.seq % 4, 'needs-action', 'accepted', 'declined', 'tentative'), now(3), 1
     from event e join seq_1_to_${guestsOfEach} s on true
     on duplicate key update reply = values(reply)`,
    [people],
  );
  await insertCues(db, some, all);
  await insertPast(db, deliveries, guestsOfEach, people);
  await raw('analyze table subscriber, list_member, invitee, firing, delivery');
  return { people, deliveries, events, guestsOfEach, lists: { few, some, all } };
}

async function insertLists(db: Knex): Promise<number[]> {
  const ids: number[] = [];
  for (const name of ['Fifty', 'A tenth', 'All of them']) {
    const [id] = await db('list').insert({ name });
    ids.push(Number(id));
  }
  return ids;
}

/** One a day at half past seven in the evening, from tomorrow on; every fourth is weekly. */
async function insertEvents(db: Knex): Promise<void> {
  const rows = Array.from({ length: events }, (_, index) => {
    const day = new Date(Date.now() + (1 + (index % 60)) * 86_400_000).toISOString().slice(0, 10);
    const startsAt = new Date(`${day}T19:30:00Z`);
    const facts = {
      ...blankFacts,
      title: `Evening ${index + 1}`,
      zone: 'Europe/Lisbon',
      venue: 'Dome 1',
      span: { kind: 'timed', start: `${day}T19:30`, end: `${day}T22:00` },
      series: index % 4 === 0 ? { rule: 'FREQ=WEEKLY;COUNT=30', added: [], exceptions: [] } : null,
    };
    return { index, startsAt, endsAt: new Date(startsAt.getTime() + 9_000_000), facts };
  });
  await db.batchInsert(
    'event',
    rows.map(({ index, startsAt, endsAt, facts }) => ({
      id: index + 1,
      public_key: `scale${index + 1}`,
      uid: `scale${index + 1}@convite.example`,
      status: 'published',
      version: 1,
      starts_at: startsAt,
      ends_at: endsAt,
      last_at: facts.series ? new Date(endsAt.getTime() + 29 * 7 * 86_400_000) : endsAt,
      planned_until: new Date(Date.now() + 40 * 86_400_000),
      repeats: facts.series !== null,
      reach: 'public',
    })),
  );
  await db.batchInsert(
    'event_version',
    rows.map(({ index, facts }) => ({
      event_id: index + 1,
      number: 1,
      sequence: 0,
      facts: JSON.stringify(facts),
      called_off: false,
      created_at: new Date(),
      by_name: 'Scale',
    })),
  );
}

/** Five cues for each event: four to its guests, one to a list; the board's four weeks are full of them. */
async function insertCues(db: Knex, someList: number, allList: number): Promise<void> {
  const guests = { invitees: ['accepted', 'tentative'], lists: [], exceptLists: [], exceptReplies: [], topics: null };
  const rows = Array.from({ length: events * 5 }, (_, index) => {
    const event = 1 + Math.floor(index / 5);
    const nth = index % 5;
    const ofList = {
      ...guests,
      invitees: [],
      lists: [event % 50 === 0 ? allList : someList],
      exceptReplies: ['accepted'],
    };
    return {
      id: index + 1,
      event_id: event,
      name: `${7 - nth} days to go`,
      channel: nth === 3 ? 'text' : 'email',
      moment: JSON.stringify({
        kind: 'relative',
        amount: 7 - nth,
        unit: 'days',
        direction: 'before',
        anchor: 'start',
        at: null,
      }),
      audience: JSON.stringify(nth === 4 ? ofList : guests),
      wording_id: 1,
      wording_version: 1,
      is_draft: false,
    };
  });
  const said = plainDocument('Soon: {{event.title}}', 'Hello {{person.firstName}}, see you {{event.when}}.');
  await db('wording').insert({
    id: 1,
    version: 1,
    kind: 'cue',
    document: JSON.stringify(said),
    created_at: new Date(),
  });
  await db.batchInsert('cue', rows);
  await db.raw(
    `insert into cue_list (list_id, cue_id) select json_value(audience, '$.lists[0]'), id from cue where json_length(audience, '$.lists') > 0`,
  );
  await db.raw(
    `insert into firing (kind, event_id, cue_id, slot, channel, due_at, state, priority, count_at)
     select 'cue', c.event_id, c.id, if(e.repeats, date_format(e.starts_at + interval s.seq week, '%Y-%m-%dT19:30'), ''), c.channel,
            e.starts_at + interval s.seq week - interval json_value(c.moment, '$.amount') day, 'set', 3, '1970-01-01'
     from cue c join event e on e.id = c.event_id join seq_0_to_4 s on (e.repeats or s.seq = 0)
     where e.starts_at + interval s.seq week - interval json_value(c.moment, '$.amount') day > now() + interval 1 hour`,
  );
}

/** What went out: as many firings of a guest list's size as make the deliveries, a day apart by day, back from yesterday. */
async function insertPast(db: Knex, deliveries: number, guestsOfEach: number, people: number): Promise<void> {
  const firings = Math.max(1, Math.ceil(deliveries / guestsOfEach));
  const [row] = await db('firing').max({ id: 'id' });
  const from = Number(row?.['id'] ?? 0);
  await db.raw(
    `insert into firing (id, kind, event_id, channel, due_at, state, priority, is_expanded, planned, sent, failed)
     select ? + seq, 'cue', 1 + seq % ${events}, 'email', now() - interval 1 hour - interval seq hour, 'done', 3, true, ?, ? - (seq % 97 = 0), seq % 97 = 0
     from seq_1_to_${firings}`,
    [from, guestsOfEach, guestsOfEach],
  );
  await db.raw(
    `insert into delivery (firing_id, subscriber_id, channel, state, attempts, next_at, sent_at, counts)
     select ? + f.seq, 1 + (f.seq * 997 + s.seq * 199) % ?, 'email', if(f.seq % 97 = 0 and s.seq = 1, 'failed', 'sent'), 1, now() - interval f.seq hour, now() - interval f.seq hour, f.seq % 3 = 0
     from seq_1_to_${firings} f join seq_1_to_${guestsOfEach} s on true limit ${deliveries}`,
    [from, people],
  );
}
