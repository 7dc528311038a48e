import { escapeHtml, sayWhen, type Manner, type Presence, type RegistrationState } from '@convite/core';
import type { RegistrationDate } from '../services/registration/register';

/** What somebody typed that could not be used, and why. */
export interface TypedRegistration {
  readonly name: string;
  readonly email: string;
  readonly occurrence: string;
  readonly presence?: Presence | null;
  readonly problem: string;
}

/** Why somebody is not registered; null for a date that is not there. */
export function refusedWords(state: RegistrationState | null): string {
  if (state === 'full') return 'Somebody was faster: that date is full now.';
  return state === 'closed' ? 'Registration for that date is closed.' : 'Choose one of the dates.';
}

/** The form by which people register; empty for an event that takes nobody. */
export function registrationForm(
  url: string,
  dates: readonly RegistrationDate[],
  typed: TypedRegistration | null,
  stamp: string,
  manner: Manner,
): string {
  const problem = typed?.problem ? `<p class="notice" role="alert">${escapeHtml(typed.problem)}</p>` : '';
  if (dates.length === 0) return problem;
  const open = dates.filter(canTake);
  const [first] = open;
  if (!first) {
    const full = dates.length > 1 ? 'Every date is full.' : 'It is full.';
    const why = dates.some(({ state }) => state === 'full') ? full : 'Registration is closed.';
    return `<h2>Registration</h2>${problem}<p>${why}</p>`;
  }
  const field = (name: 'name' | 'email', label: string, more: string): string =>
    `<p><label>${label} <input name="${name}" value="${escapeHtml(typed?.[name] ?? '')}" ${more}></label></p>`;
  const wanted = open.some(({ date }) => date.key === typed?.occurrence) ? typed?.occurrence : first.date.key;
  const onlyWaits = open.every(({ state, isHybrid }) => state === 'waitlist' && !isHybrid);
  return `<h2>${onlyWaits ? 'It is full: join the waitlist' : 'Register'}</h2>
<form method="post" action="${escapeHtml(url)}" class="register">${problem}
${first.date.key ? `<fieldset><legend>Which date</legend>${dates.map((one) => choice(one, wanted, manner)).join('')}</fieldset>` : onlyWaits ? '' : `<p>${sayLeft(first)}</p>`}
${open.some(({ isHybrid }) => isHybrid) ? howForm(typed?.presence ?? 'in-person') : ''}
${field('name', 'Your name', 'maxlength="200" autocomplete="name"')}
${field('email', 'Your email address', 'type="email" required maxlength="254" autocomplete="email"')}
<p class="unseen" aria-hidden="true"><label>Leave this empty <input name="website" tabindex="-1" autocomplete="off"></label></p>
<input type="hidden" name="stamp" value="${escapeHtml(stamp)}">
<p><button>${onlyWaits ? 'Join the waitlist' : 'Register'}</button></p>
<p class="small">A mail comes to that address${onlyWaits ? '' : ', with the entry for your calendar'}. ${
    open.some(({ state }) => state === 'waitlist')
      ? 'Where it is full you are put on the waitlist: whoever has waited longest is asked first as soon as a place is free. '
      : ''
  }We write to you about this event only.</p></form>`;
}

/** Who comes online needs no place, so that this is open where places are not. */
const canTake = ({ state, isHybrid }: RegistrationDate): boolean =>
  state === 'open' || state === 'waitlist' || (state === 'full' && isHybrid);

export function howForm(chosen: Presence): string {
  const one = (value: Presence, label: string): string =>
    `<label class="choice"><input type="radio" name="presence" value="${value}"${value === chosen ? ' checked' : ''}> <span>${label}</span></label>`;
  return `<fieldset><legend>How you come</legend>${one('in-person', 'In person')}${one('online', 'Online, for which there is always room')}</fieldset>`;
}

function choice(one: RegistrationDate, wanted: string | undefined, manner: Manner): string {
  const { key, facts, calledOff } = one.date;
  const isOpen = canTake(one);
  const when = escapeHtml(sayWhen(facts, '', manner));
  return `<label class="choice"><input type="radio" name="occurrence" value="${escapeHtml(key)}"${
    isOpen ? (key === wanted ? ' checked' : '') : ' disabled'
  }> <span>${calledOff ? `<s>${when}</s>` : when}</span> <em>${calledOff ? 'called off' : sayLeft(one)}</em></label>`;
}

const sayLeft = ({ state, left, isHybrid }: RegistrationDate): string => {
  const here = isHybrid && left !== null && state !== 'closed' ? ' in person' : '';
  if (state === 'open') return left === null ? '' : `${left === 1 ? 'one place left' : `${left} left`}${here}`;
  return state === 'waitlist' ? `full${here}: waitlist` : `${state}${here}`;
};
