import type { WatchData } from '../api/types';
import { Spelt, clock, listed, many } from '../ui/format';

const STILL_AFTER_MS = 20_000;
const verb = (count: number, one: string, others: string) => (count === 1 ? one : others);

/** "We are cut off since 05:08 …": whatever else is seen from there says nothing while that lasts. */
function cutOffOf({ cutOff, zone }: WatchData): string | false {
  if (!cutOff) return false;
  const since = clock(cutOff.since, zone);
  return cutOff.isAll
    ? `We are the ones who are cut off, since ${since}: no place reaches what is always up, so all verdicts are held.`
    : `${listed(cutOff.places)} ${verb(cutOff.places.length, 'is', 'are')} cut off since ${since}; verdicts from there are held.`;
}

/** What is not as it should be although no incident says so; nothing is calm while any of it lasts. */
function troublesOf(data: WatchData): string[] {
  const { targets, rulesInService, broken, aside, parts, away, unheard, silentStations } = data;
  const silent = targets.known - targets.paused - targets.onTime - targets.new;
  const still = parts.filter((part) => part.ageMs > STILL_AFTER_MS).map((part) => part.name);
  const gone = away.filter((one) => !one.isThere).map((one) => one.name);
  const refuses = away.filter((one) => one.isThere).map((one) => one.name);
  return [
    cutOffOf(data),
    silentStations.length > 0 &&
      `Nothing is heard of the ${verb(silentStations.length, 'station', 'stations')} at ${listed(silentStations)}.`,
    rulesInService === 0 && targets.known > 0 && 'No rule is in service, so nothing is watched.',
    targets.known === 0 && 'No target is read yet, so nothing is watched.',
    unheard.length > 0 && `Nobody would hear of what ${listed(unheard)} ${verb(unheard.length, 'answers', 'answer')} for.`,
    gone.length > 0 && `${listed(gone)} ${verb(gone.length, 'takes', 'take')} no messages.`,
    refuses.length > 0 && `${listed(refuses)} ${verb(refuses.length, 'refuses', 'refuse')} some messages.`,
    still.length > 0 && `${listed(still)} ${verb(still.length, 'does', 'do')} not report.`,
    broken.length > 0 && `${Spelt(broken.length)} ${verb(broken.length, 'rule is', 'rules are')} broken.`,
    silent > 0 && `${Spelt(silent)} ${verb(silent, 'target is', 'targets are')} silent.`,
    aside.length > 0 && `${Spelt(aside.length)} ${verb(aside.length, 'thing was', 'things were')} set aside.`,
  ].filter((one): one is string => one !== false);
}

/** Said for as long as it may explain what is missing; it is over, so it keeps nothing from being calm. */
const STANDSTILL_SAID_MS = 3_600_000;
function standstillOf({ stoodStill, now, zone }: WatchData): string | false {
  const last = stoodStill[0];
  if (!last || now - last.to > STANDSTILL_SAID_MS) return false;
  return `Nobody collected from ${clock(last.from, zone)} to ${clock(last.to, zone)}; of that time nothing is known.`;
}

export type Headline = { strong: string; pale: string; /** what of it is worth hearing again when it changes */ means: string };

/** The one sentence that says whether somebody is needed, and what else is not as it should be. */
export function headlineOf(data: WatchData): Headline {
  const hushed = data.open.filter((one) => one.status === 'open' && one.hushedUntil !== null).length;
  const needs = data.open.filter((one) => one.status === 'open').length - hushed;
  const inHand = data.open.length - needs - hushed;
  const troubles = troublesOf(data);
  const watched = data.targets.known - data.targets.paused;
  const waits = data.targets.new > 0 ? `, ${data.targets.new} ${verb(data.targets.new, 'waits', 'wait')} to be asked` : '';
  const reports = `${data.targets.onTime} of ${many(watched, 'target')} ${verb(watched, 'reports', 'report')} on time${waits}.`;
  const strong =
    needs > 0
      ? `${Spelt(needs)} ${verb(needs, 'incident needs', 'incidents need')} someone now.`
      : inHand > 0 || hushed > 0
        ? 'Nothing needs anyone new.'
        : troubles.length > 0
          ? troubles.join(' ')
          : 'All calm.';
  const hand =
    needs === 0 ? `${Spelt(inHand)} ${verb(inHand, 'is', 'are')}` : `${Spelt(inHand)} more ${verb(inHand, 'is', 'are')}`;
  const isHushed = hushed > 0 && `${Spelt(hushed)} ${verb(hushed, 'is', 'are')} hushed;`;
  const rest = strong === troubles.join(' ') ? [] : troubles;
  return {
    strong,
    pale: [inHand > 0 && `${hand} in hand;`, isHushed, reports, ...rest, standstillOf(data)].filter(Boolean).join(' '),
    means: [strong, inHand > 0 && `${hand} in hand.`, isHushed, ...rest].filter(Boolean).join(' '),
  };
}
