import type { Heard, HoursDefinition, PlanChange, PlanChoices, PlanCompared, ShownRung, WhoDefinition } from '../api/types';
import { listed, many } from '../ui/format';

const NEED_NAME = ['person', 'team', 'role'];

/** `team piers`, `on call`; a person by name, or by the address of somebody who is gone. */
export function whoWords(who: WhoDefinition, people: PlanChoices['people']): string {
  if (who.listener === 'on call' && who.name !== '') return `roster ${who.name}`;
  if (who.listener === 'next on the roster' && who.name !== '') return `next on roster ${who.name}`;
  if (!NEED_NAME.includes(who.listener)) return who.listener;
  if (who.listener !== 'person') return `${who.listener} ${who.name}`;
  return people.find((one) => one.address === who.name)?.name ?? `${who.name} (gone)`;
}

/** Channels as they are called, those that are not there any more marked. */
export const channelWords = (by: string[], { channels }: Pick<PlanChoices, 'channels'>): string[] =>
  by.map((name) => (channels.includes(name) ? name : `${name} (gone)`));

/** What a rung means now: nobody where it reaches nobody, else those that its words do not name already. */
export function reachedWords(rung: ShownRung): string {
  return rung.people.length === 0 ? 'now nobody' : `now ${listed(rung.people)}`;
}

/** `path boarding added`, `ladder piers changed: rung 2 was on call, then 15m and is team piers`. */
export function changeWords(change: PlanChange): string {
  const fields = change.fields.map(({ field, was, now }) => `${field} ${was || 'not set'} → ${now || 'not set'}`);
  return `${change.kind} ${change.name} ${change.what}${fields.length === 0 ? '' : `: ${fields.join('; ')}`}`;
}

/** "These 14 incidents would have been 9, with 31 fewer messages, 5 fewer of them at night." */
export function comparedWords({ inService: was, draft: now, price, priceThen }: PlanCompared): string {
  const count = (heard: Heard, of: 'messages' | 'atNight') => heard.people.reduce((sum, person) => sum + person[of], 0);
  const change = (of: 'messages' | 'atNight', words: string) => {
    const difference = count(now, of) - count(was, of);
    return difference === 0 ? `as many ${words}` : `${Math.abs(difference)} ${difference < 0 ? 'fewer' : 'more'} ${words}`;
  };
  const incidents =
    was.incidents === now.incidents
      ? `the same ${many(now.incidents, 'incident')}`
      : `these ${many(was.incidents, 'incident')} would have been ${now.incidents}`;
  const unheard = now.unheard === 0 ? '' : `, and ${many(now.unheard, 'incident')} would have reached nobody`;
  return `${incidents}, with ${change('messages', 'messages')}, ${change('atNight', 'of them at night')}${unheard}${priceWords(price, priceThen)}`;
}

const money = (thousandths: number) => (thousandths / 1000).toFixed(2);
/** `; messages would have cost 5.85 instead of 8.20`, nothing where none of them costs anything. */
const priceWords = (was: number, now: number) =>
  was === 0 && now === 0
    ? ''
    : `; messages would have cost ${money(now)}${was === now ? ', as they did' : ` instead of ${money(was)}`}`;

/** Whom the draft would tell oftener or more seldom: `Ines Duarte 12 times, 3 at night; it was 9 and 2`. */
export function personWords({ inService: was, draft: now }: PlanCompared): string[] {
  const names = [...new Set([...now.people, ...was.people].map((person) => person.name))];
  return names.flatMap((name) => {
    const of = (heard: Heard) => heard.people.find((person) => person.name === name) ?? { messages: 0, atNight: 0 };
    const [before, after] = [of(was), of(now)];
    if (before.messages === after.messages && before.atNight === after.atNight) return [];
    return [
      `${name} ${many(after.messages, 'time')}, ${after.atNight} at night; it was ${before.messages} and ${before.atNight}`,
    ];
  });
}

/** Which hours of a week are covered, Monday first: those in which some stretch lies. */
export function hoursOfWeek(hours: Pick<HoursDefinition, 'stretches'> | null): boolean[][] {
  const week = Array.from({ length: 7 }, () => Array.from({ length: 24 }, () => hours === null));
  for (const { days, from, to } of hours?.stretches ?? []) {
    const [begin, end] = [minutesOf(from), minutesOf(to)];
    for (const day of days) {
      for (let minute = begin - (begin % 60); minute < (end <= begin ? end + 1440 : end); minute += 60) {
        const row = week[(day - 1 + Math.floor(minute / 1440)) % 7];
        if (row) row[Math.floor((minute % 1440) / 60)] = true;
      }
    }
  }
  return week;
}

const minutesOf = (clock: string): number => {
  const [hour = 0, minute = 0] = clock.split(':').map(Number);
  return 60 * hour + minute;
};
