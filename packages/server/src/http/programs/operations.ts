import {
  changedMembers,
  changeMembers as membersChange,
  consentPage,
  consentQuery,
  madeProgramList,
  memberPage,
  memberQuery,
  newProgramList,
  noteConsents as consentsSaid,
  ownRequest,
  ownResult,
  programLists as listsAnswer,
  programSubscriber,
  programSubscriberPage,
  programSubscriberQuery,
  rowOutcomes,
  takeSubscribers,
} from '@convite/contract';
import { erasePerson } from '../../services/audience/erase-person';
import { createList } from '../../services/audience/lists';
import { takePersonal } from '../../services/events/personal';
import { Failure } from '../../services/failure';
import { listConsents, noteConsents } from '../../services/programs/consents';
import { changeMembers, listMembers, programLists } from '../../services/programs/lists';
import { listSubscribers, readSubscriber, takeFromProgram } from '../../services/programs/subscribers';
import { nothing, operation, type Operation } from './operation';

const ana = {
  id: 1,
  email: 'ana@people.example',
  name: 'Ana Vilhena',
  mobile: '',
  phone: '',
  zone: 'Europe/Lisbon',
  language: 'pt',
  emailConsent: true,
  textConsent: false,
  optedOut: false,
  bounced: false,
  lists: [1],
  topics: ['moon'],
  fields: { Seat: 'A4' },
};

/** Everything that programs may ask, in the order in which a new one would. */
export const operations: readonly Operation[] = [
  operation({
    method: 'get',
    path: '/lists',
    scope: 'lists:read',
    summary: 'All lists, with how many are on each',
    query: nothing,
    body: nothing,
    answer: listsAnswer,
    example: { path: '/lists', answer: { rows: [{ id: 1, name: 'Night sky news', members: 0, isArchived: false }] } },
    run: (context) => programLists(context),
  }),
  operation({
    method: 'post',
    path: '/subscribers',
    scope: 'subscribers:write',
    summary: 'Takes people in, each row for itself',
    about:
      'Whoever is known by the address (or, without one, by the number) is changed as `rule` says; others are new. A row that cannot be used is refused with the reason, and the others go in. Nobody is written to without consent: say in `consent` how people agreed, and of each whether they did.',
    query: nothing,
    body: takeSubscribers,
    answer: rowOutcomes,
    takesKey: true,
    example: {
      path: '/subscribers',
      body: {
        consent: { email: { how: 'ticked the box as they booked', on: '2031-06-01' } },
        rows: [
          {
            email: 'ana@people.example',
            name: 'Ana Vilhena',
            zone: 'Lisbon',
            language: 'pt',
            lists: [1],
            topics: ['moon'],
            fields: { Seat: 'A4' },
            agreesToEmail: true,
          },
          { email: 'nobody at all' },
        ],
      },
      answer: {
        results: [
          { index: 0, id: 1, outcome: 'new', problems: [] },
          {
            index: 1,
            id: null,
            outcome: 'refused',
            problems: [
              {
                code: 'bad-address',
                path: 'email',
                facts: { text: 'nobody at all' },
                message: '“nobody at all” is not an email address.',
              },
            ],
          },
        ],
      },
    },
    run: (context, { body }, { actor, key }) => takeFromProgram(context, body, actor, key),
  }),
  operation({
    method: 'get',
    path: '/subscribers',
    scope: 'subscribers:read',
    summary: 'People, page by page',
    about: 'In the order of their numbers. Ask again with `next` as `after` until it is null.',
    query: programSubscriberQuery,
    body: nothing,
    answer: programSubscriberPage,
    example: { path: '/subscribers?email=ana@people.example&limit=10', answer: { rows: [ana], next: null } },
    run: (context, { query }) => listSubscribers(context, query),
  }),
  operation({
    method: 'get',
    path: '/subscribers/{id}',
    scope: 'subscribers:read',
    summary: 'One person',
    query: nothing,
    body: nothing,
    answer: programSubscriber,
    example: { path: '/subscribers/1', answer: ana },
    run: (context, { id }) => readSubscriber(context, id),
  }),
  operation({
    method: 'post',
    path: '/lists',
    scope: 'lists:write',
    summary: 'Makes a list',
    query: nothing,
    body: newProgramList,
    answer: madeProgramList,
    example: { path: '/lists', body: { name: 'Booked this week' }, answer: { id: 2 } },
    run: async (context, { body }, { actor }) => ({ id: await createList(context, body.name, actor) }),
  }),
  operation({
    method: 'post',
    path: '/lists/{id}/members',
    scope: 'lists:write',
    summary: 'Puts people on a list, and takes others off it',
    about: 'Done again it changes nothing. Who is taken off is out of everything that has not gone out yet.',
    query: nothing,
    body: membersChange,
    answer: changedMembers,
    example: {
      path: '/lists/2/members',
      body: { add: [1, 999], remove: [] },
      answer: { joined: [1], left: [], unknown: [999] },
    },
    run: (context, { id, body }, { actor }) => changeMembers(context, id, body, actor),
  }),
  operation({
    method: 'get',
    path: '/lists/{id}/members',
    scope: 'lists:read',
    summary: 'Who is on a list, page by page',
    query: memberQuery,
    body: nothing,
    answer: memberPage,
    example: { path: '/lists/2/members?limit=100', answer: { rows: [1], next: null } },
    run: (context, { id, query }) => listMembers(context, id, query),
  }),
  operation({
    method: 'post',
    path: '/consents',
    scope: 'consents:write',
    summary: 'Takes down what people said, each row for itself',
    about:
      'A no counts at once. A yes counts where they never said no to us: that only they take back, or a member in their name.',
    query: nothing,
    body: consentsSaid,
    answer: rowOutcomes,
    takesKey: true,
    example: {
      path: '/consents',
      body: {
        rows: [
          {
            email: 'ana@people.example',
            channel: 'email',
            isGiven: false,
            how: 'unticked the box in the booking desk',
            at: '2031-06-09T10:00:00Z',
          },
        ],
      },
      answer: { results: [{ index: 0, id: 1, outcome: 'noted', problems: [] }] },
    },
    run: (context, { body }, { actor, key }) => noteConsents(context, body, actor, key),
  }),
  operation({
    method: 'get',
    path: '/consents',
    scope: 'consents:read',
    summary: 'The ledger of consent, page by page',
    about:
      'Line after line as they were said; what was said last of a channel counts. Keep `next` to hear only what is new.',
    query: consentQuery,
    body: nothing,
    answer: consentPage,
    example: {
      path: '/consents?after=1&subscriber=1',
      answer: {
        rows: [
          {
            id: 2,
            subscriberId: 1,
            channel: 'email',
            isGiven: false,
            how: 'unticked the box in the booking desk',
            source: 'api',
            at: '2031-06-09T10:00:00.000Z',
          },
        ],
        next: null,
      },
    },
    run: (context, { query: { subscriber, ...page } }) =>
      listConsents(context, { ...page, ...(subscriber !== undefined && { subscriber }) }),
  }),
  operation({
    method: 'post',
    path: '/events/{id}/personal',
    scope: 'times:write',
    summary: 'People’s own times at an event, such as booked slots',
    about:
      'The event must say in Details that everybody has their own time. New people come without consent to anything else.',
    query: nothing,
    body: ownRequest,
    answer: ownResult,
    example: {
      path: '/events/1/personal',
      body: {
        kind: 'rows',
        rows: [{ email: 'ana@people.example', start: '2031-06-18T10:00', end: '2031-06-18T10:30', place: 'Dome 1' }],
      },
      answer: { saved: 1, guests: 1, problems: [] },
    },
    run: (context, { id, body }, { actor, program }) => {
      if (program.eventId !== null && program.eventId !== id)
        throw new Failure(403, 'not-in-scope', 'This key is for another event.');
      return takePersonal(context, id, body, actor);
    },
  }),
  operation({
    method: 'delete',
    path: '/subscribers/{id}',
    scope: 'subscribers:write',
    summary: 'Erases somebody',
    about: 'Their personal data is gone everywhere, and cannot be brought back. Counts stay.',
    query: nothing,
    body: nothing,
    answer: null,
    example: { path: '/subscribers/1', answer: null },
    run: (context, { id }, { actor }) => erasePerson(context, id, actor),
  }),
];
