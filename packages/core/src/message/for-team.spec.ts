import { letter } from './written';
import { plainDocument } from './document';
import { forTeam } from './for-team';

describe('a message as the team reads it', () => {
  const values = { 'event.title': 'Dome night', 'event.date': 'Fri 18 Jun 2027' };

  it('has the event’s facts in place, brackets for what is each person’s own, and no links', () => {
    const said = letter('{{event.title}}, {{event.date}}', 'Dear {{person.firstName|friend}},', {
      kind: 'button',
      label: 'Reply',
      address: { kind: 'field', field: 'link.reply', fallback: '' },
    });
    const { subject, text } = forTeam(said, values);
    expect(subject).toBe('Dome night, Fri 18 Jun 2027');
    expect(text).toContain('[first name]');
    expect(text).not.toMatch(/Reply|\{\{/);
  });

  it('never shows a field as it is stored, whatever it is about', () => {
    const all = '{{event.title}} {{event.when}} {{person.name}} {{link.optOut}} {{organisation.name}}';
    expect(JSON.stringify(forTeam(plainDocument(all, all), {}))).not.toContain('{{');
  });
});
