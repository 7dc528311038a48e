import type { TestRequest } from '@convite/contract';
import { noAudience } from '@convite/core';
import type { AboutEvent } from './compose-event';

/** What a message about an event would be made of if it were sent now: what previews and tests compose. */
export function contentIfSent(
  kind: Exclude<TestRequest['kind'], 'manual'>,
  said: Pick<AboutEvent, 'document' | 'version'>,
  stampMs: number,
): AboutEvent {
  switch (kind) {
    case 'invitation':
      return { ...said, kind, stampMs, audience: noAudience };
    case 'notice':
      return { ...said, kind, stampMs, method: 'REQUEST', occurrence: '', isByDate: false };
    case 'call-off':
      return { ...said, kind: 'notice', stampMs, method: 'CANCEL', occurrence: '', isByDate: false };
    case 'cue':
      return { ...said, kind, startMs: null, countsDown: false, audience: null, moment: null, inThread: false };
  }
}
