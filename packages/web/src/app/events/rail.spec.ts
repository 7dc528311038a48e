import { TestBed } from '@angular/core/testing';
import { noWording, type CueRow } from '@convite/contract';
import { Rail } from './rail';

const start = Date.UTC(2031, 5, 18, 18, 30);
const cue = (id: number, hours: number, channel: 'email' | 'text' = 'email'): CueRow => ({
  id,
  name: `Cue ${id}`,
  channel,
  moment: { kind: 'fixed', wall: '2031-01-01T00:00' },
  audience: { invitees: [], lists: [], exceptLists: [], exceptReplies: [], topics: null },
  wording: noWording,
  isDraft: false,
  hazards: [],
  firing: {
    id,
    state: 'set',
    dueAt: new Date(start + hours * 3_600_000).toISOString(),
    note: '',
    tally: { countedAt: '2026-10-01T00:00:00.000Z', finishAt: null, gets: 12_345, sent: 0, failed: 0, waiting: 0 },
    occurrence: null,
    zone: '',
    ownDay: null,
    otherZones: null,
  },
  ahead: [],
});

function draw(cues: CueRow[]) {
  const fixture = TestBed.createComponent(Rail);
  fixture.componentRef.setInput('cues', cues);
  fixture.componentRef.setInput('startAt', new Date(start).toISOString());
  fixture.componentRef.setInput('zone', 'Europe/Lisbon');
  fixture.detectChanges();
  const groups = [...(fixture.nativeElement as HTMLElement).querySelectorAll<SVGGElement>('g.cue')];
  const circles = groups.map((group) => group.querySelector('circle'));
  return {
    fixture,
    groups,
    x: circles.map((circle) => Number(circle?.getAttribute('cx'))),
    y: circles.map((circle) => Number(circle?.getAttribute('cy'))),
  };
}

describe('Rail', () => {
  it('keeps time’s order, weeks small and hours large, channels in their lanes', () => {
    const { x, y } = draw([cue(1, -24 * 28), cue(2, -24 * 21), cue(3, -3), cue(4, -1, 'text'), cue(5, 24)]);
    expect([...x].sort((a, b) => a - b)).toEqual(x);
    const [fourWeeks = 0, threeWeeks = 0, threeHours = 0, oneHour = 0] = x;
    expect((oneHour - threeHours) / 2).toBeGreaterThan((threeWeeks - fourWeeks) / (7 * 24));
    expect(y[2]).not.toBe(y[3] ?? 0);
  });

  it('names each cue in full, and opens it by keyboard', () => {
    const { fixture, groups } = draw([cue(1, -24)]);
    const picked: number[] = [];
    fixture.componentInstance.picked.subscribe(({ id }) => picked.push(id));
    expect(groups[0]?.getAttribute('aria-label')).toBe(
      'Cue 1: set, Tue 17 Jun 2031 19:30 Lisbon, 12,345 people by email',
    );
    groups[0]?.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    expect(picked).toEqual([1]);
  });

  it('draws an empty countdown', () => expect(draw([]).groups.length).toBe(0));
});
