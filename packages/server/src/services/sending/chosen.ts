import type { ChosenPeople } from '@convite/contract';
import { noAudience, type Audience } from '@convite/core';

/** Whom somebody chose; what is left out is none. */
export type Chosen = Pick<ChosenPeople, 'lists'> & Partial<ChosenPeople>;

/** The audience of it, and of nothing else that may stand beside it in a request. */
export const audienceOfChosen = ({
  lists,
  segments = [],
  people = [],
  exceptLists = [],
  exceptSegments = [],
  exceptPeople = [],
}: Chosen): Audience => ({
  ...noAudience,
  ...{ lists, segments, people, exceptLists, exceptSegments, exceptPeople },
});
