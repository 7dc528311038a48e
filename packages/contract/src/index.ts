// What crosses the wire, once for both sides.
export * from './session';
export * from './account';
export * from './zone';
export * from './audience';
export * from './event';
export * from './guests';
export * from './sending';
export * from './countdown';
export * from './messages';
export * from './digest';
export * from './settings';
export * from './backstage';
export * from './import';
export * from './problem';
export * from './sentences';
export * from './calendar-words';
export * from './wording';
