import type { Certificates } from '../../api/types';
import { many, span } from '../../ui/format';

type Row = Certificates['certificates'][number];

export const DAY_MS = 86_400_000;
/** Time enough to order another one without haste. */
const SOON_DAYS = 21;

export type Ending = 'ended' | 'soon' | 'later';
export const endingOf = (row: Pick<Row, 'endsAt'>, now: number): Ending =>
  row.endsAt <= now ? 'ended' : row.endsAt - now < SOON_DAYS * DAY_MS ? 'soon' : 'later';

/** `in 12 d`, `3 h ago`. */
export const leftWords = ({ endsAt }: Pick<Row, 'endsAt'>, now: number): string =>
  endsAt > now ? `in ${span(endsAt - now)}` : `${span(now - endsAt)} ago`;

/** How they stand, the worst first. */
export function certificatesSentence({ certificates }: Pick<Certificates, 'certificates'>, now: number): string {
  if (certificates.length === 0) return 'No certificate is known yet.';
  const ended = certificates.filter((row) => endingOf(row, now) === 'ended');
  const soon = certificates.filter((row) => endingOf(row, now) === 'soon');
  const first = soon[0];
  const parts = [
    ended.length > 0 && `${many(ended.length, 'certificate')} ${ended.length === 1 ? 'has' : 'have'} ended.`,
    first &&
      `${many(soon.length, 'certificate')} ${soon.length === 1 ? 'ends' : 'end'} within three weeks, ` +
        `${soon.length === 1 ? '' : 'the first '}${leftWords(first, now)}.`,
  ].filter(Boolean);
  return parts.length > 0
    ? parts.join(' ')
    : `The first of ${many(certificates.length, 'certificate')} ends ${leftWords(certificates[0]!, now)}.`;
}
