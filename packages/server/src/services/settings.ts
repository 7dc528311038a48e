import type { Settings, SettingsChange } from '@convite/contract';
import {
  isSame,
  contrastRatio,
  isPlaceholderAddress,
  isZone,
  readableOn,
  readableRatio,
  readMapPattern,
  readMobile,
  readWebCalendarPattern,
  type Problem,
} from '@convite/core';
import { nowOf, type Actor, type Context } from './context';
import { refuseProblems, refuseStale } from './failure';

export const readSettings = ({ store }: Context): Promise<Settings> => store.house.settings();

/** The ground of public pages by day. */
const paper = '#fbf8f3';

/** Saves the settings when every part can be used; a web-calendar pattern is checked here, not when a link is written. */
export async function saveSettings(context: Context, { was, ...value }: SettingsChange, actor: Actor): Promise<void> {
  const problems: Problem[] = isZone(value.zone)
    ? []
    : [{ code: 'unknown-zone', path: 'zone', facts: { zone: value.zone } }];
  if (value.asksRelease && (await writersOf(context)) < 2) problems.push({ code: 'needs-two', path: 'asksRelease' });
  for (const key of ['email', 'replyTo'] as const)
    if (isPlaceholderAddress(value.sender[key]))
      problems.push({ code: 'placeholder-address', path: `sender.${key}`, facts: { text: value.sender[key] } });
  if (!value.postalAddress) problems.push({ code: 'required', path: 'postalAddress' });
  const { colour, mapPattern } = value.page;
  if (contrastRatio(colour, paper) < readableRatio)
    problems.push({ code: 'hard-to-read', path: 'page.colour', facts: { colour: readableOn(colour, paper) } });
  const map = mapPattern ? readMapPattern(mapPattern) : null;
  if (map && !map.ok) problems.push(...map.problems.map((problem) => ({ ...problem, path: 'page.mapPattern' })));
  value.webCalendars.forEach(({ pattern }, index) => {
    const read = readWebCalendarPattern(pattern);
    if (!read.ok)
      problems.push(...read.problems.map((problem) => ({ ...problem, path: `webCalendars.${index}.pattern` })));
  });
  const mobile = value.standby.mobile ? readMobile(value.standby.mobile, value.region, 'standby.mobile') : null;
  if (mobile && !mobile.ok) problems.push(...mobile.problems);
  refuseProblems(problems);
  await context.store.transact(async (tx) => {
    refuseStale('page', await tx.house.settingsForUpdate(), was);
    const { workdays, holidays } = await tx.house.settings();
    await tx.house.saveSettings({
      ...value,
      standby: { ...value.standby, mobile: mobile?.ok ? mobile.value : '' },
    });
    if (!isSame([workdays, holidays], [value.workdays, value.holidays]))
      await tx.events.replanByWorkdays(context.clock.now());
    await tx.house.audit(nowOf(context), actor, 'settings: saved', value.organisation);
    await tx.live.touch('settings', 'board');
  });
}

/** Members who can sign in, and may write to people. */
const writersOf = async ({ store }: Context): Promise<number> =>
  (await store.members.all()).filter(({ role, isInvited }) => role !== 'viewer' && !isInvited).length;
