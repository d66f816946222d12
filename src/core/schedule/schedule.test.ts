import { isDue, nextTimes, scheduleProblem, scheduleWords, type Schedule } from './schedule';

const at = (iso: string): number => Date.parse(iso);
const weekdays: Schedule = { cron: '30 7 * * 1-5', zone: 'Europe/Dublin', missed: 'catch up' };

describe(nextTimes, () => {
  test('goes by the clock of the zone, and passes the weekend', () => {
    expect(nextTimes(weekdays, at('2026-11-27T08:00:00Z'), 2).map((ms) => new Date(ms).toISOString())).toEqual(['2026-11-30T07:30:00.000Z', '2026-12-01T07:30:00.000Z']);
  });
  test('stays at the same time of day when clocks are put back', () => {
    expect(nextTimes({ cron: '30 7 * * *', zone: 'Europe/Dublin' }, at('2026-10-24T00:00:00Z'), 2).map((ms) => new Date(ms).toISOString())).toEqual(['2026-10-24T06:30:00.000Z', '2026-10-25T07:30:00.000Z']);
  });
});

describe(isDue, () => {
  const due = (missed: Schedule['missed'], last: string | null, now: string) => isDue({ ...weekdays, missed }, last === null ? null : at(last), at(now));
  test('the first look is made at once, and the next when its time has come', () => {
    expect([due('skip', null, '2026-11-25T12:00:00Z'), due('skip', '2026-11-25T07:30:02Z', '2026-11-25T12:00:00Z'), due('skip', '2026-11-24T07:30:02Z', '2026-11-25T07:30:00Z')]).toEqual([true, false, true]);
  });
  test('a time at which nobody ran is made up for or passed over, as was chosen', () => {
    expect([due('catch up', '2026-11-24T07:30:02Z', '2026-11-25T11:00:00Z'), due('skip', '2026-11-24T07:30:02Z', '2026-11-25T11:00:00Z')]).toEqual([true, false]);
  });
});

describe(scheduleProblem, () => {
  test.each([['30 7 * *', 'five parts'], ['99 7 * * *', 'is no schedule'], ['* * * * * *', 'five parts']])('“%s”: %s', (cron, why) => expect(scheduleProblem({ cron, zone: 'UTC' })).toContain(why));
  test('a zone that is none', () => expect(scheduleProblem({ cron: '0 8 * * *', zone: 'Skarrow/Quay' })).toContain('is no time zone'));
  test('nothing, where nothing is wrong', () => expect(scheduleProblem(weekdays)).toBeNull());
});

describe(scheduleWords, () => {
  test.each([['30 7 * * 1-5', 'on working days at 07:30'], ['0 8,14 * * *', 'every day at 08:00 and 14:00'], ['*/15 * * * *', 'every 15 minutes'], ['5 * * * *', 'every hour at 05'], ['0 6 1 * *', 'on day 1 of every month at 06:00'], ['0 6 1 1 *', 'at the times “0 6 1 1 *”']])('%s: %s', (cron, words) => expect(scheduleWords({ cron })).toBe(words));
});
