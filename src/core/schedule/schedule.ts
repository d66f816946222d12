import { CronExpressionParser } from 'cron-parser';

/** When a source is looked at, instead of all the time. */
export interface Schedule {
  /** Minute, hour, day of the month, month, day of the week (POSIX crontab). */
  readonly cron: string;
  /** Name of the time zone (IANA), for example Europe/Dublin. */
  readonly zone: string;
  /** A time at which no worker ran: made up for when one runs again, or passed over. */
  readonly missed: 'catch up' | 'skip';
}

/** A time that is over for longer than this was missed, ms. */
const MISSED_AFTER_MS = 5 * 60_000;

const parse = ({ cron, zone }: Pick<Schedule, 'cron' | 'zone'>, nowMs: number) => CronExpressionParser.parse(cron, { currentDate: new Date(nowMs), tz: zone });

/** What is wrong with a schedule, in a sentence; null when nothing is. */
export function scheduleProblem(schedule: Pick<Schedule, 'cron' | 'zone'>): string | null {
  if (schedule.cron.trim().split(/\s+/).length !== 5) return 'A schedule has five parts: minute, hour, day of the month, month, day of the week, as in “30 7 * * 1-5”';
  try {
    new Intl.DateTimeFormat('en', { timeZone: schedule.zone });
  } catch {
    return `“${schedule.zone}” is no time zone; one is called Europe/Dublin`;
  }
  try {
    parse(schedule, 0).next();
    return null;
  } catch (error) {
    return `“${schedule.cron}” is no schedule: ${(error as Error).message}`;
  }
}

/** The next times after a moment, ms. Clocks that are put forward or back in the zone are heeded. */
export function nextTimes(schedule: Pick<Schedule, 'cron' | 'zone'>, nowMs: number, count: number): number[] {
  const times = parse(schedule, nowMs);
  return Array.from({ length: count }, () => times.next().getTime());
}

/** Is it time to look, when the last look was then? Null: it was never looked at, and the first look is made at once. */
export function isDue(schedule: Schedule, lastMs: number | null, nowMs: number): boolean {
  if (lastMs === null) return true;
  // One moment later, so that the time itself counts as come.
  const latest = parse(schedule, nowMs + 1).prev().getTime();
  if (latest <= lastMs) return false;
  return schedule.missed === 'catch up' || nowMs - latest <= MISSED_AFTER_MS;
}

const DAYS: Readonly<Record<string, string>> = { '*': 'every day', '1-5': 'on working days', '0': 'on Sundays', '1': 'on Mondays', '2': 'on Tuesdays', '3': 'on Wednesdays', '4': 'on Thursdays', '5': 'on Fridays', '6': 'on Saturdays', '7': 'on Sundays' };

/** A schedule as it would be said; one that is less usual is quoted. */
export function scheduleWords({ cron }: Pick<Schedule, 'cron'>): string {
  const [minute = '', hour = '', day = '', month = '', weekday = ''] = cron.trim().split(/\s+/);
  const each = /^\*\/(\d+)$/.exec(minute);
  if (each && hour === '*' && day === '*' && month === '*' && weekday === '*') return `every ${each[1]} minutes`;
  if (!/^\d+$/.test(minute) || month !== '*') return `at the times “${cron}”`;
  if (hour === '*' && day === '*' && weekday === '*') return `every hour at ${minute.padStart(2, '0')}`;
  if (!/^\d+(,\d+)*$/.test(hour)) return `at the times “${cron}”`;
  const at = hour.split(',').map((one) => `${one.padStart(2, '0')}:${minute.padStart(2, '0')}`).join(' and ');
  if (day === '*' && DAYS[weekday]) return `${DAYS[weekday]} at ${at}`;
  return /^\d+$/.test(day) && weekday === '*' ? `on day ${day} of every month at ${at}` : `at the times “${cron}”`;
}
