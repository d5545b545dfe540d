import clsx from 'clsx';
import type { Check, SeenMinutes } from '../../api/types';
import { listed as list, many, quantity, span, whole } from '../../ui/format';

export type State = Check['states'][number];
type Verdict = 'runs' | 'partly' | 'down' | 'unknown';

const WORDS: Partial<Record<string, string>> & Record<Verdict, string> = {
  runs: 'runs',
  partly: 'runs, but something it did failed',
  down: 'down',
  unknown: 'unknown',
};
const DAY_MS = 86_400_000;
const ORDER: Verdict[] = ['down', 'partly', 'unknown', 'runs'];

export const verdictWords = (verdict: string): string => WORDS[verdict] ?? 'not asked yet';

/** How it stands over all its places: the worst that any of them saw; nothing before the first asking. */
export const worst = (states: Pick<State, 'verdict'>[]): Verdict | null =>
  ORDER.find((verdict) => states.some((state) => state.verdict === verdict)) ?? null;

/** Shape and hue, never hue alone: a dot, a half rhombus, a cross, a dashed ring. */
export function VerdictMark({ verdict }: { verdict: string | null }) {
  return (
    <svg viewBox="-7 -7 14 14" width="14" height="14" className="inline-block shrink-0 align-[-2px]" aria-hidden>
      {verdict === 'runs' && <circle r="3.2" fill="var(--accent)" />}
      {verdict === 'partly' && (
        <path d="M0 -6L6 0L0 6L-6 0Z M0 -6L-6 0L0 6Z" fill="none" stroke="var(--major)" strokeWidth="1.4" />
      )}
      {verdict === 'partly' && <path d="M0 -6L-6 0L0 6Z" fill="var(--major)" />}
      {verdict === 'down' && <path d="M-4.5 -4.5L4.5 4.5M4.5 -4.5L-4.5 4.5" stroke="var(--critical)" strokeWidth="2.4" />}
      {(verdict === 'unknown' || verdict === null) && (
        <circle r="4.6" fill="none" stroke="var(--muted)" strokeWidth="1.4" strokeDasharray="2.4 2" />
      )}
    </svg>
  );
}

/** "Two of six checks need a look: ticket shop answers is down." */
export function checksSentence(checks: Check[]): string {
  const asked = checks.filter((check) => !check.paused);
  if (checks.length === 0) return 'Nothing is asked from outside yet.';
  const named = (verdict: Verdict) => asked.filter((check) => worst(check.states) === verdict).map((check) => `“${check.name}”`);
  const [down, partly, unknown] = [named('down'), named('partly'), named('unknown')];
  const parts = [
    down.length > 0 ? `${list(down)} ${down.length === 1 ? 'is' : 'are'} down` : '',
    partly.length > 0 ? `${list(partly)} ${partly.length === 1 ? 'runs' : 'run'}, but something failed` : '',
    unknown.length > 0 ? `of ${list(unknown)} nobody knows` : '',
  ].filter((part) => part !== '');
  if (parts.length > 0) return `${parts.join('; ')}.`.replace(/^./, (letter) => letter.toUpperCase());
  return asked.length === 1 ? 'The one check is well.' : `All ${many(asked.length, 'check')} are well.`;
}

/** How one check stands, as a sentence: what, since when, why. */
export function checkSentence(check: Pick<Check, 'states' | 'paused'>, now: number): string {
  if (check.paused) return 'is paused.';
  const verdict = worst(check.states);
  if (verdict === null) return 'was not asked yet.';
  const states = check.states.filter((state) => state.verdict === verdict);
  const since = Math.min(...states.map((state) => state.since));
  const took = states[0] && verdict === 'runs' ? ` It answered last in ${quantity(states[0].seconds, 'seconds')}.` : '';
  const where =
    check.states.length > 1 && states.length < check.states.length
      ? `, seen from ${states.length} of ${check.states.length} places`
      : '';
  const is = verdict === 'unknown' || verdict === 'down' ? `is ${verdict}` : WORDS[verdict];
  return `${is} for ${span(Math.max(0, now - since))}${where}.${took}`;
}

export function VerdictWords({ verdict, className }: { verdict: string | null; className?: string }) {
  return (
    <span className={clsx('inline-flex items-center gap-1.5', className)}>
      <VerdictMark verdict={verdict} />
      {verdict === null ? 'not asked yet' : verdictWords(verdict)}
    </span>
  );
}

/** "There in 1,438 of 1,440 minutes of the last day, 99.86 %, seen from more than half of its places; slow in 3." */
export function dayWords({ from, to, minutes, available, unknown, slow }: SeenMinutes, places: number): string {
  const known = minutes - unknown;
  const share = (100 * available) / known;
  const rounded = share === 100 ? '100' : Math.min(share, 99.99).toFixed(2);
  const since = to - from > DAY_MS - 60_000 ? 'of the last day' : 'since it was added';
  const seen = places > 1 ? ', seen from more than half of its places' : '';
  const rest = [slow > 0 ? `slow in ${whole(slow)}` : '', unknown > 0 ? `of ${whole(unknown)} more nobody knows` : ''].filter(
    (part) => part !== '',
  );
  return `There in ${whole(available)} of ${many(known, 'minute')} ${since}, ${rounded}\u00a0%${seen}${rest.map((part) => `; ${part}`).join('')}.`;
}
