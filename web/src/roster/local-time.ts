const parts = (zone: string) =>
  new Intl.DateTimeFormat('en-CA', {
    timeZone: zone,
    hourCycle: 'h23',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
  });

/** What calendar and clock show there: `2026-11-28 10:00`, as rosters are written. */
export function localText(at: number, zone: string): string {
  const shown = Object.fromEntries(
    parts(zone)
      .formatToParts(at)
      .map((one) => [one.type, one.value]),
  );
  return `${shown['year']}-${shown['month']}-${shown['day']} ${shown['hour']}:${shown['minute']}`;
}

/** The day there: `2026-11-28`. */
export const localDay = (at: number, zone: string): string => localText(at, zone).slice(0, 10);

/** As an input of day and time takes it, and back. */
export const toInput = (text: string): string => text.replace(' ', 'T');
export const fromInput = (value: string): string => value.replace('T', ' ').slice(0, 16);

/** So many days later: `2026-11-30` after `2026-11-23` and 7. */
export function dayAfter(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
}

/** Midnights of the days of a span there, with its begin: their days are 23, 24 or 25 hours long. */
export function midnights(from: number, to: number, zone: string): number[] {
  const found = [from];
  for (let at = from; at < to;) {
    // An hour short of a day, then on by quarters until the day is another.
    let next = at + 22 * 3_600_000;
    while (localDay(next, zone) === localDay(at, zone)) next += 900_000;
    if (next >= to) break;
    found.push(next);
    at = next;
  }
  return found;
}
