import type { TargetTest } from '../api/types';
import { labelWords } from '../ui/controls';
import { quantity, whole } from '../ui/format';

/** What the address answered, family by family, so that one sees what is missing before it is saved. */
export function TestResult({ test }: { test: TargetTest }) {
  if (!test.ok)
    return (
      <p role="status" className="rounded-lg border border-critical/40 px-3 py-2 break-words text-critical">
        {test.message}
      </p>
    );
  return (
    <div role="status" className="rounded-lg bg-accent-soft px-3 py-2">
      <p>
        It answered in {quantity(test.seconds ?? 0, 'seconds')} with {test.series} series of {test.families} families ({test.form}
        ).
      </p>
      <p className="text-[13px]">
        {whole(test.readingsADay ?? 0)} readings and about {quantity(test.bytesADay ?? 0, 'bytes')} a day.
      </p>
      {test.found && test.found.length > 0 && (
        <ul className="mt-2 max-h-48 overflow-y-auto border-t border-line pt-1" tabIndex={0} aria-label="What it brings">
          {test.found.map((family) => (
            <li key={family.name} className="py-0.5">
              <span className="font-mono text-[12.5px]">{family.name}</span>{' '}
              <span className="text-[13px] text-muted">
                {family.type}
                {family.unit && `, ${family.unit}`} · {family.series} series
              </span>
              {family.readings.map((reading) => (
                <span key={labelWords(reading.labels)} className="block truncate pl-4 text-[13px] text-muted">
                  {labelWords(reading.labels) || 'without labels'} <span className="text-ink">{reading.value}</span>
                </span>
              ))}
            </li>
          ))}
        </ul>
      )}
      {test.hints?.map((hint) => (
        <p key={hint} className="mt-1 text-[13px] font-medium">
          {hint}.
        </p>
      ))}
    </div>
  );
}
