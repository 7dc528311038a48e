import { propertyOf, type Component } from './read-components';

/** What a method asks of each of its VEVENTs, and what it forbids. */
interface Demand {
  readonly must: readonly string[];
  readonly never: readonly string[];
  readonly states: readonly string[];
  readonly mayAlarm: boolean;
}

const always = ['UID', 'DTSTAMP', 'ORGANIZER'];
const told = [...always, 'DTSTART', 'SUMMARY'];

/** The tables of RFC 5546 §3.2.1, §3.2.2, §3.2.5 and §3.2.8: the methods that we send. */
const demands: Readonly<Record<string, Demand>> = {
  PUBLISH: {
    must: told,
    never: ['ATTENDEE', 'REQUEST-STATUS'],
    states: ['TENTATIVE', 'CONFIRMED', 'CANCELLED'],
    mayAlarm: true,
  },
  REQUEST: {
    must: [...told, 'ATTENDEE'],
    never: ['REQUEST-STATUS'],
    states: ['TENTATIVE', 'CONFIRMED'],
    mayAlarm: true,
  },
  CANCEL: {
    must: [...always, 'SEQUENCE', 'ATTENDEE', 'STATUS'],
    never: ['REQUEST-STATUS'],
    states: ['CANCELLED'],
    mayAlarm: false,
  },
  DECLINECOUNTER: {
    must: [...always, 'SEQUENCE', 'ATTENDEE'],
    never: [],
    states: ['TENTATIVE', 'CONFIRMED'],
    mayAlarm: false,
  },
};

/** "0 or 1", or "1", in every one of the tables. */
const once = [
  ...['CLASS', 'CREATED', 'DESCRIPTION', 'DTEND', 'DTSTAMP', 'DTSTART', 'DURATION', 'GEO', 'LAST-MODIFIED', 'LOCATION'],
  ...['ORGANIZER', 'PRIORITY', 'RECURRENCE-ID', 'RRULE', 'SEQUENCE', 'STATUS', 'SUMMARY', 'TRANSP', 'UID', 'URL'],
];

/** Where an event of a message departs from the table of its method; empty when nowhere, or for a method we never send. */
export function methodFaults(event: Component, method: string): string[] {
  const demand = demands[method];
  if (!demand) return [];
  const count = (name: string): number => event.properties.filter((property) => property.name === name).length;
  const status = propertyOf(event, 'STATUS')?.value.trim().toUpperCase();
  const alarms = event.components.filter(({ name }) => name === 'VALARM').length;
  return [
    ...demand.must.filter((name) => count(name) === 0).map((name) => `${name} is missing in ${method}`),
    ...demand.never.filter((name) => count(name) > 0).map((name) => `${name} is not allowed in ${method}`),
    ...once.filter((name) => count(name) > 1).map((name) => `${name} stands more than once`),
    ...(count('DTEND') && count('DURATION') ? ['DTEND and DURATION exclude each other'] : []),
    ...(status && !demand.states.includes(status) ? [`STATUS ${status} is not allowed in ${method}`] : []),
    ...(alarms && !demand.mayAlarm ? [`VALARM is not allowed in ${method}`] : []),
  ];
}
