import type { Knex } from 'knex';
import { apiKeyStore } from './api-keys';
import { askedStore } from './asked';
import { audienceStore } from './audiences';
import { beginningStore } from './beginning';
import { claimStore } from './claims';
import { consentStore } from './consents';
import { cameOfStore } from './came-of';
import { cueStore, digestStore } from './cues';
import { deliveryLog } from './delivery-log';
import { deliveryStore } from './deliveries';
import { eventTallyStore } from './event-tallies';
import { eventStore } from './events';
import { expansionStore } from './expansions';
import { fieldStore } from './fields';
import { firingStore } from './firings';
import { guestStore } from './guests';
import { housePictureStore } from './house-picture';
import { houseStore, liveStore } from './house';
import { inviteeStore } from './invitees';
import { textedStore } from './texted';
import { actStore } from './acts';
import { taskStore } from './tasks';
import { cueSearch } from './cue-search';
import { dateStore } from './dates';
import { erasureStore } from './erasures';
import { heldStore } from './held';
import { keptWordingStore } from './kept-wordings';
import { knownPeopleStore } from './known-people';
import { leaseStore } from './leases';
import { newsStore } from './news';
import { stepStore } from './steps';
import { letterStore } from './letters';
import { listGrowthStore } from './list-growth';
import { listStore } from './lists';
import { memberStore } from './members';
import { messageStore } from './messages';
import { newcomerStore } from './newcomers';
import { onDisplayStore } from './on-display';
import { outcomeStore } from './outcomes';
import { pastStore } from './past';
import { senderStore } from './senders';
import { linkEndingStore } from './link-endings';
import { linksPressedStore } from './links-pressed';
import { pagesOpenedStore } from './pages-opened';
import { personCourseStore } from './person-course';
import { peopleImportRowStore } from './people-import-rows';
import { peopleImportStore } from './people-imports';
import { personFactsStore } from './person-facts';
import { personalStore } from './personal';
import { proposalStore } from './proposals';
import { refusalStore } from './refusals';
import { registrationRequestStore } from './registration-requests';
import { registrationStore } from './registrations';
import { releaseStore } from './releases';
import { planStore } from './plans';
import { testedStore } from './tested';
import { replyStore } from './replies';
import { removalStore } from './removals';
import { requestStore } from './requests';
import { inTransaction } from './retry-locked';
import { saidStore } from './said';
import { mergeStore } from './merges';
import { pictureStore } from './pictures';
import { pressureStore } from './pressure';
import { segmentStore } from './segments';
import { signupStore } from './signups';
import { openSessionStore } from './sessions';
import { signInFailureStore } from './sign-in-failures';
import { subscriberStore } from './subscribers';
import { toInviteStore } from './to-invite';
import { troubleStore } from './troubles';
import { waitlistStore } from './waitlist';
import { watchStore } from './watches';
import { webhookStore } from './webhooks';

function subjects(db: Knex) {
  return {
    subscribers: subscriberStore(db),
    newcomers: newcomerStore(db),
    personFacts: personFactsStore(db),
    consents: consentStore(db),
    lists: listStore(db),
    listGrowth: listGrowthStore(db),
    fields: fieldStore(db),
    segments: segmentStore(db),
    merges: mergeStore(db),
    pressure: pressureStore(db),
    webhooks: webhookStore(db),
    senders: senderStore(db),
    linkEndings: linkEndingStore(db),
    linksPressed: linksPressedStore(db),
    pagesOpened: pagesOpenedStore(db),
    keptWordings: keptWordingStore(db),
    pictures: pictureStore(db),
    personCourse: personCourseStore(db),
    signups: signupStore(db),
    refusals: refusalStore(db),
    events: eventStore(db),
    eventTallies: eventTallyStore(db),
    cueSearch: cueSearch(db),
    erasures: erasureStore(db),
    held: heldStore(db),
    invitees: inviteeStore(db),
    texted: textedStore(db),
    acts: actStore(db),
    tasks: taskStore(db),
    guests: guestStore(db),
    replies: replyStore(db),
    dates: dateStore(db),
    personal: personalStore(db),
    proposals: proposalStore(db),
    registrations: registrationStore(db),
    registrationRequests: registrationRequestStore(db),
    waitlist: waitlistStore(db),
    watches: watchStore(db),
    cues: cueStore(db),
    cameOf: cameOfStore(db),
    releases: releaseStore(db),
    tested: testedStore(db),
    plans: planStore(db),
    digests: digestStore(db),
    firings: firingStore(db),
    audiences: audienceStore(db),
    expansions: expansionStore(db),
    deliveries: deliveryStore(db),
    messages: messageStore(db),
    deliveryLog: deliveryLog(db),
    claims: claimStore(db),
    outcomes: outcomeStore(db),
    past: pastStore(db),
    said: saidStore(db),
    leases: leaseStore(db),
    steps: stepStore(db),
    news: newsStore(db),
    house: houseStore(db),
    live: liveStore(db),
    onDisplay: onDisplayStore(db),
    members: memberStore(db),
    sessions: openSessionStore(db),
    signInFailures: signInFailureStore(db),
    apiKeys: apiKeyStore(db),
    troubles: troubleStore(db),
    asked: askedStore(db),
    requests: requestStore(db),
    letters: letterStore(db),
    peopleImports: peopleImportStore(db),
    peopleImportRows: peopleImportRowStore(db),
    knownPeople: knownPeopleStore(db),
    toInvite: toInviteStore(db),
    beginning: beginningStore(db),
    removals: removalStore(db),
    housePicture: housePictureStore(db),
  };
}

export type StoreSubjects = ReturnType<typeof subjects>;
export interface Store extends StoreSubjects {
  /** Runs the work in one transaction: all of it is stored, or nothing. Done again when it met another's locks. */
  transact<T>(work: (store: StoreSubjects) => Promise<T>): Promise<T>;
}

export function openStore(db: Knex): Store {
  return { ...subjects(db), transact: (work) => inTransaction(db, (tx) => work(subjects(tx))) };
}
