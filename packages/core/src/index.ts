// Core's front door, in reading order. Pure: no clock, no I/O, no interface.
export * from './problem';
export * from './same';
export * from './cut';
export * from './merge';
export * from './reply-state';
export * from './time/daily';
export * from './time/zone';
export * from './time/wall-time';
export * from './time/by-day';
export * from './time/shift';
export * from './time/workdays';
export * from './time/manner';
export * from './time/say';
export * from './time/language';
export * from './time/formats';
export * from './time/gaps';
export * from './time/read-typed';
export * from './time/zone-names';
export * from './time/quiet-hours';
export * from './time/find-zone';
export * from './recurrence/rule';
export * from './recurrence/expand';
export * from './recurrence/local-time';
export * from './recurrence/say-rule';
export * from './event/event';
export * from './event/entry';
export * from './event/web-address';
export * from './event/check-span';
export * from './event/series';
export * from './event/check-event';
export * from './event/occurrences';
export * from './event/edit-series';
export * from './event/personal';
export * from './event/registration';
export * from './event/change';
export * from './event/merge';
export * from './event/clashes';
export * from './calendar/content-line';
export * from './calendar/vtimezone';
export * from './calendar/write-component';
export * from './calendar/write-event';
export * from './calendar/write-feed';
export * from './calendar/write-schedule';
export * from './calendar/read-components';
export * from './calendar/calendar-time';
export * from './calendar/uid';
export * from './calendar/read-zone';
export * from './calendar/person-message';
export * from './calendar/read-events';
export * from './calendar/conformance';
export * from './calendar/judge-reply';
export * from './links/uri-template';
export * from './links/web-calendar';
export * from './links/read-link';
export * from './links/test-link';
export * from './audience/audience';
export * from './audience/consent';
export * from './audience/field';
export * from './audience/judge';
export * from './audience/pressure';
export * from './audience/segment';
export * from './audience/pitfalls';
export * from './audience/say-segment';
export * from './audience/explain';
export {
  listsOf,
  peopleIn,
  withPeople,
  all,
  any,
  none,
  steps,
  type About,
  type Condition,
  type MessageKind,
  type Step,
  type Quiet,
  type Tree,
  type Who,
} from './audience/tree';
export * from './countdown/moment';
export * from './countdown/step';
export * from './countdown/move';
export * from './countdown/postpone';
export * from './countdown/slot';
export * from './countdown/plan';
export * from './countdown/queue';
export * from './countdown/counting';
export * from './countdown/difference';
export * from './countdown/firing';
export * from './countdown/hazards';
export * from './countdown/still-goes';
export * from './countdown/act';
export * from './countdown/early';
export * from './countdown/quiet';
export * from './countdown/rehearse-all';
export * from './digest/rhythm';
export * from './digest/issue';
export * from './message/contrast';
export * from './message/fields';
export * from './message/wording';
export * from './message/html';
export * from './message/only';
export * from './message/look';
export * from './message/document';
export * from './message/versions';
export * from './message/about-event';
export * from './message/render';
export * from './message/block-words';
export * from './message/written';
export * from './message/tidy-text';
export * from './message/text-parts';
export * from './message/plain-alphabet';
export * from './message/mobile';
export * from './message/plain-words';
export * from './message/addresses';
export * from './message/findings';
export * from './message/purposes';
export * from './message/difference';
export * from './message/text-answer';
export * from './message/opt-out';
export * from './message/join-link';
export * from './message/for-team';
export * from './message/time-by-hand';
export * from './message/typed-links';
export * from './people/write-vcard';
export * from './people/zone-of';
export * from './people/written-day';
export * from './people/column';
export * from './people/people-table';
export * from './people/mailbox';
export * from './people/read-cards';
export * from './people/read-person';
export * from './people/merge-person';
export * from './people/plan-merge';
