import type { SpellDifference } from '../api/types';
import { labelWords } from '../ui/controls';
import { dayClock, many, span } from '../ui/format';
import { useZone } from '../ui/session';
import { Crystal } from '../ui/severity';

const CHANGES = ['new', 'gone', 'sooner', 'later'] as const;
const MOST = 12;

/** `2 new, 1 gone, 3 as before`. */
export function differenceWords(differences: SpellDifference[]): string {
  const count = (change: SpellDifference['change']) => differences.filter((one) => one.change === change).length;
  const parts = CHANGES.filter((change) => count(change) > 0).map((change) => `${count(change)} ${change}`);
  const kept = count('kept');
  if (parts.length === 0) return kept === 0 ? 'no alerts before or after' : `the same ${many(kept, 'alert')}`;
  return [...parts, ...(kept > 0 ? [`${kept} as before`] : [])].join(', ');
}

/** Alert by alert, what becomes of it; those that stay as they are only counted. */
export function Differences({ of }: { of: SpellDifference[] }) {
  const zone = useZone();
  const changed = of.filter((one) => one.change !== 'kept');
  return (
    <>
      <ul className="space-y-1">
        {changed.slice(0, MOST).map((one, i) => {
          const spell = one.is ?? one.was!;
          const moved = one.is && one.was ? Math.abs(one.is.raisedAt - one.was.raisedAt) : 0;
          return (
            <li key={i} className="flex flex-wrap items-baseline gap-x-2">
              <Crystal severity={spell.severity} size={12} />
              <strong className="w-14 font-semibold">{one.change}</strong>
              <span>{dayClock(spell.raisedAt, zone)}</span>
              <span className="text-muted">
                {moved > 0 && `by ${span(moved)}, `}
                {labelWords(spell.labels, ['kind', 'service', 'target', 'state'])}
              </span>
            </li>
          );
        })}
      </ul>
      {changed.length > MOST && <p className="text-muted">and {many(changed.length - MOST, 'more', 'more')}</p>}
    </>
  );
}
