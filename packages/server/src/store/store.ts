import type { Knex } from 'knex';
import { cueStore, digestStore } from './cues';
import { deliveryStore } from './deliveries';
import { eventStore } from './events';
import { firingStore } from './firings';
import { houseStore, liveStore } from './house';
import { inviteeStore } from './invitees';
import { dateStore } from './dates';
import { personalStore } from './personal';
import { proposalStore } from './proposals';
import { registrationStore } from './registrations';
import { subscriberStore } from './subscribers';
import { watchStore } from './watches';

function subjects(db: Knex) {
  return {
    subscribers: subscriberStore(db),
    events: eventStore(db),
    invitees: inviteeStore(db),
    dates: dateStore(db),
    personal: personalStore(db),
    proposals: proposalStore(db),
    registrations: registrationStore(db),
    watches: watchStore(db),
    cues: cueStore(db),
    digests: digestStore(db),
    firings: firingStore(db),
    deliveries: deliveryStore(db),
    house: houseStore(db),
    live: liveStore(db),
  };
}

export type StoreSubjects = ReturnType<typeof subjects>;
export interface Store extends StoreSubjects {
  /** Runs the work in one transaction: all of it is stored, or nothing. */
  transact<T>(work: (store: StoreSubjects) => Promise<T>): Promise<T>;
}

export function openStore(db: Knex): Store {
  return { ...subjects(db), transact: (work) => db.transaction((tx) => work(subjects(tx))) };
}
