import type { Severity, WatchData } from '../api/types';
import { SEVERITIES } from '../ui/severity';

type Row = Pick<WatchData['open'][number], 'id' | 'severity' | 'status' | 'hushedUntil' | 'title'>;
export type Known = ReadonlyMap<number, Severity>;

/** The gravest is 0. */
const rank = (severity: Severity): number => SEVERITIES.indexOf(severity);

const needsSomeone = (row: Row) => row.status === 'open' && row.hushedUntil === null;

/** What came up, or grew graver, since it was looked at last, the gravest first; nothing at the first look. */
export function newsOf(before: Known | null, open: readonly Row[]): { news: Row[]; known: Known } {
  const now = open.filter(needsSomeone);
  const known = new Map(now.map((row) => [row.id, row.severity]));
  if (before === null) return { news: [], known };
  const news = now.filter((row) => {
    const old = before.get(row.id);
    return old === undefined || rank(row.severity) < rank(old);
  });
  return { news: news.sort((a, b) => rank(a.severity) - rank(b.severity)), known };
}

/** Unread ones that still need somebody, the gravest on top, so that a small one never hides a grave one. */
export function stacked(unread: readonly number[], open: readonly Row[]): Row[] {
  return open
    .filter((row) => unread.includes(row.id) && needsSomeone(row))
    .sort((a, b) => rank(a.severity) - rank(b.severity) || b.id - a.id);
}

/** The gravest of what needs somebody; null where nothing does. */
export function gravest(open: readonly Row[]): Severity | null {
  return open.filter(needsSomeone).sort((a, b) => rank(a.severity) - rank(b.severity))[0]?.severity ?? null;
}
