import { resolveWallTime, type EventFacts } from '@convite/core';
import { deliver, dayBeforeCue } from '../../testing/acts';
import { actor, clockTo, eventFacts, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { findCues } from '../countdown/find-cues';
import { createEvent, insertEvents } from './events';
import { readYear } from './event-year';
import { listEvents } from './list-events';

const zone = 'Europe/Lisbon';
const at = (day: string): Pick<EventFacts, 'span'> => ({
  span: { kind: 'timed', start: `${day}T19:30`, end: `${day}T22:00` },
});

describe('the table of events', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', zone));
  });
  afterEach(() => stage.close());
  const list = (when: 'coming' | 'past', search = '', after = 0) => listEvents(stage.context, { when, search, after });
  const titles = async (when: 'coming' | 'past', search = ''): Promise<string[]> =>
    (await list(when, search)).rows.map(({ title }) => title);

  it('puts a series where its next date is, and what is over apart, latest first', async () => {
    const weekly = { rule: 'FREQ=WEEKLY', added: [], exceptions: [] };
    await publishedEvent(stage, { ...at('2031-06-12'), title: 'Once' });
    await publishedEvent(stage, { ...at('2031-01-03'), title: 'Fridays', series: weekly });
    await publishedEvent(stage, {
      ...at('2031-01-04'),
      title: 'Ended',
      series: { ...weekly, rule: 'FREQ=WEEKLY;COUNT=3' },
    });
    await publishedEvent(stage, { ...at('2031-05-01'), title: 'Over' });
    await publishedEvent(stage, { ...at('2031-06-11'), title: 'Tomorrow' });
    expect(await titles('coming')).toEqual(['Tomorrow', 'Once', 'Fridays']);
    expect(await titles('past')).toEqual(['Over', 'Ended']);
    expect((await list('coming')).rows[2]?.startAt).toBe('2031-06-13T18:30:00.000Z');
  });

  it('finds words of title and place as people type them, and no more than they say', async () => {
    await publishedEvent(stage, { title: 'Observação à noite', venue: 'Cúpula 100%' });
    await publishedEvent(stage, { title: 'Moon walk', venue: 'Garden' });
    expect(await titles('coming', 'OBSERVACAO')).toEqual(['Observação à noite']);
    expect(await titles('coming', 'garden')).toEqual(['Moon walk']);
    expect(await titles('coming', '100%')).toEqual(['Observação à noite']);
    expect(await titles('coming', '%')).toEqual(['Observação à noite']);
    expect(await titles('coming', "'; drop table event; --")).toEqual([]);
  });

  it('finds cues by the beginning of their names and by words in them, with the event they belong to', async () => {
    const id = await publishedEvent(stage, { title: 'Moon walk' });
    const other = await publishedEvent(stage, { title: 'Dome night' });
    for (const [event, name] of [
      [id, 'One week to go'],
      [other, 'One week to go'],
      [other, 'What is a pulsar?'],
      [other, 'Thank you 100%'],
    ] as const)
      await saveCue(stage.context, event, null, dayBeforeCue({ name }), actor);
    const found = async (search: string): Promise<string[]> =>
      (await findCues(stage.context, search)).map(({ name, eventTitle }) => `${name} · ${eventTitle}`);
    expect(await found('week')).toEqual(['One week to go · Dome night', 'One week to go · Moon walk']);
    expect(await found('go week o')).toEqual(['One week to go · Dome night', 'One week to go · Moon walk']);
    // A word that the index leaves out is found where the name begins with it.
    expect(await found('what')).toEqual(['What is a pulsar? · Dome night']);
    expect(await found('PULS')).toEqual(['What is a pulsar? · Dome night']);
    for (const nothing of ['eek', '%', '+-*"(', '100% off', "x' or 1 --"]) expect(await found(nothing)).toEqual([]);
  });

  it('is narrowed by state and topic, and by nothing that only looks like one', async () => {
    const ids = [
      await publishedEvent(stage, { title: 'Stars', topics: ['stars'] }),
      await publishedEvent(stage, { title: 'Moon', topics: ['moon and "planets"'] }),
      await createEvent(stage.context, { ...eventFacts, title: 'Draft', topics: ['stars'] }, actor),
    ];
    const narrowed = async (status: '' | 'draft' | 'published', topic: string): Promise<string[]> =>
      (await listEvents(stage.context, { when: 'coming', search: '', after: 0, status, topic })).rows
        .map(({ title }) => title)
        .sort();
    expect(ids.length).toBe(3);
    expect(await narrowed('draft', '')).toEqual(['Draft']);
    expect(await narrowed('', 'stars')).toEqual(['Draft', 'Stars']);
    expect(await narrowed('published', 'stars')).toEqual(['Stars']);
    expect(await narrowed('', 'moon and "planets"')).toEqual(['Moon']);
    expect(await narrowed('', `stars' or '1`)).toEqual([]);
  });

  it('draws twelve months by the house’s zone, with drafts, without what is called off, and says which clash', async () => {
    await publishedEvent(stage, { ...at('2031-05-01'), title: 'First of it' });
    await publishedEvent(stage, { ...at('2031-04-30'), title: 'Before it' });
    await publishedEvent(stage, { ...at('2032-04-30'), title: 'Last of it' });
    await publishedEvent(stage, { ...at('2032-05-01'), title: 'Behind it' });
    await publishedEvent(stage, {
      ...at('2031-07-01'),
      title: 'Thrice',
      venue: 'Hall',
      series: {
        rule: 'FREQ=WEEKLY;COUNT=3',
        added: [],
        exceptions: [
          {
            at: '2031-07-08T19:30',
            calledOff: true,
            span: null,
            title: null,
            description: null,
            venue: null,
            joinLink: null,
          },
        ],
      },
    });
    await createEvent(
      stage.context,
      { ...eventFacts, ...at('2031-07-15'), title: 'Also there', venue: 'hall ' },
      actor,
    );
    const year = await readYear(stage.context);
    expect(year.dates.map(({ title, isDraft }) => `${title}${isDraft ? ' (draft)' : ''}`)).toEqual([
      'First of it',
      'Thrice',
      'Thrice',
      'Also there (draft)',
      'Last of it',
    ]);
    expect(year.clashes.map(({ titles, at: when }) => [titles.slice().sort(), when])).toEqual([
      [['Also there', 'Thrice'], '2031-07-15T18:30:00.000Z'],
    ]);
    expect([year.from, year.to, year.isCut]).toEqual(['2031-04-30T23:00:00.000Z', '2032-04-30T23:00:00.000Z', false]);
  });

  it('shows every one of many, a page at a time, each with its next cue', async () => {
    const facts = (n: number): EventFacts => ({ ...eventFacts, title: `Night ${n}` });
    const ids = await insertEvents(
      stage.context,
      stage.context.store,
      Array.from({ length: 1230 }, (_, n) => ({
        facts: facts(n),
        reach: 'public' as const,
        status: 'published' as const,
        by: 'Spec',
      })),
    );
    await saveCue(stage.context, ids[3] ?? 0, null, dayBeforeCue(), actor);
    await deliver(stage);
    const seen = new Set<number>();
    for (let after: number | null = 0; after !== null;) {
      const page: Awaited<ReturnType<typeof list>> = await list('coming', '', after);
      expect(page.total).toBe(1230);
      for (const { id } of page.rows) seen.add(id);
      after = page.next;
    }
    expect(seen.size).toBe(1230);
    expect((await list('coming')).rows[3]?.nextCue).toEqual({ name: 'Tomorrow', dueAt: '2031-06-17T18:30:00.000Z' });
    expect(await stage.context.store.events.withCues({ search: 'NIGHT' }, 5)).toEqual([
      { id: ids[3] ?? 0, title: 'Night 3' },
    ]);
  });
});
