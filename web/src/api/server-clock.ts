/**
 * The server's time, by which all clocks of the pages go: a browser that is minutes off, or slept over night, must not show
 * yesterday's person on call. Each answer says when it was made; the browser's own clock only fills the time between two.
 */
let ahead = 0;

/** A `Date` header is cut to whole seconds and may have waited on the way. */
const HEADER_SLACK_MS = 1_500;
const EXACT_SLACK_MS = 250;

/** An instant that the browser's clock gave, by the server's. */
export const byServer = (ofBrowser: number): number => ofBrowser + ahead;
export const serverNow = (): number => byServer(Date.now());

export function learnFromHeader(date: string | null): void {
  const second = date === null ? NaN : Date.parse(date);
  if (Number.isFinite(second)) learn(second + 500, HEADER_SLACK_MS);
}

export const learnExactly = (now: number): void => learn(now, EXACT_SLACK_MS);

function learn(now: number, slack: number): void {
  if (Math.abs(now - serverNow()) > slack) ahead = now - Date.now();
}
