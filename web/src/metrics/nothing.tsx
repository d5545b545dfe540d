import type { ChartData } from '../api/types';
import { dayClock } from '../ui/format';
import { useZone } from '../ui/session';

/** Why there is nothing to see, and what to do. */
export function Nothing({
  data,
  waits,
  fault,
  formula,
  onFormula,
  onReach,
}: {
  data?: ChartData;
  waits: boolean;
  /** What has to be mended first. */
  fault: string | null;
  formula: string;
  onFormula: (formula: string) => void;
  onReach: (at: number) => void;
}) {
  const zone = useZone();
  const why = data?.why;
  return (
    <div className="grid h-[330px] place-items-center text-muted">
      {waits ? (
        'Reading …'
      ) : fault !== null ? (
        fault
      ) : (
        <div className="max-w-xl text-center">
          <p className="text-ink">{why?.words ?? 'Nothing here in this span'}.</p>
          {why?.suggestion && (
            <p className="mt-1">
              Did you mean{' '}
              <button
                type="button"
                className="font-semibold text-ink underline"
                onClick={() =>
                  onFormula(
                    formula.replace(/"[^"]*"/, (text) => (why.words.includes(text) ? JSON.stringify(why.suggestion) : text)),
                  )
                }
              >
                {why.suggestion}
              </button>
              ?
            </p>
          )}
          {why?.newest && (
            <p className="mt-1">
              The newest reading is from{' '}
              <button type="button" className="font-semibold text-ink underline" onClick={() => onReach(why.newest!)}>
                {dayClock(why.newest, zone)}
              </button>
              .
            </p>
          )}
        </div>
      )}
    </div>
  );
}
