import type { KeptFields } from '@convite/contract';
import { letter, plainDocument, type Block } from '@convite/core';

/** What the observatory wrote once and uses again. */
export const inventWordings = (picture: Block): (KeptFields & { readonly key: string })[] => [
  {
    key: 'own-finding-us',
    name: 'How to find us',
    purpose: 'block',
    channel: 'email',
    wording: letter(
      '',
      { kind: 'heading', line: [{ kind: 'text', text: 'How to find us' }] },
      {
        kind: 'table',
        hasHead: true,
        rows: [
          ['By', 'From Bruma', 'Last part'].map((text) => [{ kind: 'text', text }]),
          ['Car', '25 minutes', 'dipped lights after the last bend'].map((text) => [{ kind: 'text', text }]),
          ['Shuttle', 'hourly from 18:40', 'it waits for the last of you'].map((text) => [{ kind: 'text', text }]),
        ],
      },
    ),
  },
  {
    key: 'own-clear-night',
    name: 'A clear night is coming',
    purpose: 'invitation',
    channel: 'email',
    wording: {
      ...letter(
        'Clear skies for {{event.title}}',
        picture,
        'Dear {{person.firstName|friend}},\n\nthe forecast is as good as it gets on our hill. Come up, and bring somebody who has never seen Saturn.',
        { kind: 'event' },
        { kind: 'reply', tone: 'warm' },
        { kind: 'house', key: 'own-finding-us', name: 'How to find us' },
        { kind: 'heading', line: [{ kind: 'text', text: 'Also on the hill' }] },
        { kind: 'coming', days: 21 },
      ),
      design: 'programme',
      preheader: '{{event.when}}',
    },
  },
  {
    key: 'own-clouds',
    name: 'Clouds: we decide at noon',
    purpose: 'change',
    channel: 'text',
    wording: plainDocument(
      '',
      'Clouds over the hill. Whether {{event.title}} takes place we decide at noon; look here: {{link.event}} STOP ends these texts.',
    ),
  },
];
