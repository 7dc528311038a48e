import ICAL from 'ical.js';
import { writeSchedule } from './write-schedule';

describe('The team’s own calendar of what goes out', () => {
  it('is read back by ical.js to the same moments and words, whatever they are; no line is too long (RFC 5545 §3.1)', () => {
    const title = 'Two hours; “Lua, estrelas” → 1,234 people\r\nBEGIN:VEVENT 🌒'.repeat(3);
    const text = writeSchedule(
      { name: 'What goes out, Serra da Bruma', refreshMinutes: 15 },
      [
        {
          uid: 'firing-7@x.example',
          dueMs: Date.UTC(2026, 10, 28, 10, 17),
          title,
          description: 'a\nb',
          url: 'http://x.example/events/1/countdown?cue=2&a=b',
        },
        {
          uid: 'firing-8@x.example',
          dueMs: Date.UTC(2026, 11, 24, 23, 55),
          title: 'Next',
          description: '',
          url: 'http://x.example',
        },
      ],
      Date.UTC(2026, 10, 28),
    );
    const longest = Math.max(...text.split('\r\n').map((line) => new TextEncoder().encode(line).length));
    expect(longest).toBeLessThanOrEqual(75);
    const calendar = new ICAL.Component(ICAL.parse(text));
    const events = calendar.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one));
    expect(
      events.map(({ uid, startDate, endDate }) => [
        uid,
        startDate.toJSDate().toISOString(),
        endDate.toJSDate().toISOString(),
      ]),
    ).toEqual([
      ['firing-7@x.example', '2026-11-28T10:17:00.000Z', '2026-11-28T10:27:00.000Z'],
      ['firing-8@x.example', '2026-12-24T23:55:00.000Z', '2026-12-25T00:05:00.000Z'],
    ]);
    expect(events[0]?.summary).toBe(title.replace(/\r\n/g, '\n'));
    expect(events[0]?.component.getFirstPropertyValue('url')).toBe('http://x.example/events/1/countdown?cue=2&a=b');
  });
});
