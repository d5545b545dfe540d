import { useQuery } from '@tanstack/react-query';
import { rules } from '../api/queries';
import type { RuleStart } from '../api/types';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';
import { many, quantity } from '../ui/format';
import { metricWords } from './said';

/** A new rule begins with what people watch here, each with what it measures now and usually. */
export function RuleStarts({ onChoose }: { onChoose: (start: RuleStart) => void }) {
  const starts = useQuery(rules.starts());
  return (
    <Sheet label="What people watch here" className="mt-3 p-4">
      <h2 className="mb-2">What shall it watch?</h2>
      <Answered
        of={starts}
        what="what people watch here"
        isEmpty={(all) => all.length === 0}
        empty={<p className="text-muted">No target has brought readings yet. Add one in Fleet, or write a formula below.</p>}
      >
        {(all) => (
          <ul className="grid grid-cols-3 gap-2 max-lg:grid-cols-2 max-sm:grid-cols-1">
            {all.map((start) => (
              <li key={start.metric}>
                <button
                  type="button"
                  title={start.help}
                  onClick={() => onChoose(start)}
                  className="h-full w-full rounded-lg border border-line px-3 py-2 text-left hover:border-accent hover:bg-accent-soft"
                >
                  <span className="block font-semibold">{metricWords(start.metric)}</span>
                  <span className="block text-[13px]">{nowWords(start)}</span>
                  <span className="block text-[13px] text-muted">
                    {many(start.series, 'series', 'series')}
                    {start.rules > 0 && `, ${many(start.rules, 'rule')} already`}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        )}
      </Answered>
    </Sheet>
  );
}

function nowWords({ lowest, highest, usualFrom, usualTo, unit }: RuleStart): string {
  const between = (low: number | null, high: number | null) => {
    if (low === null || high === null) return null;
    const [from, to] = [quantity(low, unit), quantity(high, unit)];
    return from === to ? from : `${from} to ${to}`;
  };
  const now = between(lowest, highest);
  const usual = between(usualFrom, usualTo);
  return [now === null ? 'nothing now' : `now ${now}`, usual && `usually ${usual}`].filter(Boolean).join(', ');
}
