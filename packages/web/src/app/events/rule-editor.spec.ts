import { checkSeries, type EventFacts, type Series } from '@convite/core';
import { openScreen, someFacts, type Screen } from '../testing/screen';
import { RuleEditor } from './rule-editor';

describe('RuleEditor', () => {
  let screen: Screen<RuleEditor>;
  let facts: EventFacts;
  const moves: string[] = [];

  /** Hands every change back in, as the form around it does. */
  async function open(over: Partial<EventFacts> = {}): Promise<void> {
    facts = { ...someFacts, ...over };
    moves.length = 0;
    screen = await openScreen(RuleEditor, { facts });
    screen.fixture.componentInstance.seriesChange.subscribe((series: Series | null) => {
      facts = { ...facts, series };
      screen.fixture.componentRef.setInput('facts', facts);
      screen.fixture.componentRef.setInput('problems', checkSeries(facts));
    });
    screen.fixture.componentInstance.moveStart.subscribe((start) => moves.push(start));
  }
  const choose = async (label: string, value: string): Promise<void> => {
    await screen.type(`[aria-label="${label}"]`, value, 'change');
    await screen.settle();
  };
  const words = (): string => screen.find('.outcome strong').textContent?.trim() ?? '';
  const dates = (): string[] =>
    [...screen.element.querySelectorAll('ol li')].map((one) => one.textContent?.trim() ?? '');

  it('repeats by the week on the day of the start, and lists what comes', async () => {
    await open();
    expect(screen.element.querySelector('.outcome')).toBeNull();
    await choose('Repeats', 'WEEKLY');
    expect(words()).toBe('every Wednesday');
    expect(facts.series?.rule).toBe('FREQ=WEEKLY;BYDAY=WE');
    expect(dates().slice(0, 2)).toEqual(['Wed 18 Jun 2031 19:30', 'Wed 25 Jun 2031 19:30']);
    await choose('Every so many', '2');
    expect([words(), dates()[1]]).toEqual(['every second week on Wednesday', 'Wed 2 Jul 2031 19:30']);
    await screen.press('Fr');
    expect(facts.series?.rule).toContain('BYDAY=WE,FR');
    await screen.press('We');
    await screen.press('Fr');
    expect(facts.series?.rule).withContext('a week keeps its last day').toContain('BYDAY=FR');
  });

  it('offers what the start can stand for in a month: its day, the nth weekday, working days', async () => {
    await open();
    await choose('Repeats', 'MONTHLY');
    const choices = [...screen.element.querySelectorAll('[aria-label="On which day"] option')].map(
      (one) => one.textContent?.trim() ?? '',
    );
    expect(choices).toEqual([
      'every month on the 18th',
      'the third Wednesday of every month',
      'the first working day of every month',
      'the last working day of every month',
    ]);
    await choose('On which day', '3');
    // The last working day of June 2031 is the 30th: the start is none, and the way out is one press away.
    expect(facts.series?.rule).toBe('FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1');
    await screen.press('Move the start to');
    expect(moves).toEqual(['2031-06-30T19:30']);
  });

  it('ends never, on a day, or after so many times', async () => {
    await open({ series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] } });
    await choose('Stops repeating', 'count');
    await choose('So many times', '2');
    expect([words(), dates().length]).toEqual(['every Wednesday, 2 times', 2]);
    await choose('Stops repeating', 'until');
    await screen.type('cv-time-field input', '2031-07-02');
    expect(words()).toBe('every Wednesday, until Wed 2 Jul 2031');
    expect(dates().length).toBe(3);
    await choose('Stops repeating', 'never');
    expect(facts.series?.rule).toBe('FREQ=WEEKLY;BYDAY=WE');
    await choose('Repeats', 'once');
    expect(facts.series).toBeNull();
  });

  it('keeps a rule that cannot be read as it was typed, with what is wrong beside it', async () => {
    await open({ series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] } });
    await choose('Rule', 'FREQ=WEEKLY;BYDAY=WED');
    expect(screen.find('[aria-label="Rule"]').value).toBe('FREQ=WEEKLY;BYDAY=WED');
    expect(screen.find('cv-field-problem').textContent).toContain('WED');
    await choose('Rule', 'RRULE:FREQ=YEARLY;BYMONTH=6;BYDAY=3WE');
    expect(words()).toBe('the third Wednesday of every year in June');
  });

  it('shows dates that were called off as what they are', async () => {
    const off = { span: null, title: null, description: null, venue: null, joinLink: null };
    await open({
      series: {
        rule: 'FREQ=WEEKLY;BYDAY=WE',
        added: [],
        exceptions: [{ at: '2031-06-25T19:30', calledOff: true, ...off }],
      },
    });
    expect(dates()[1]).toBe('Wed 25 Jun 2031 19:30, called off');
  });
});
