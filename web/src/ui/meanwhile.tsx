import { useState } from 'react';
import { Button } from './controls';
import { differences, merged } from './merge';

type Props<T> = { was: T; theirs: T; mine: T; words?: Record<string, string>; onMerge: (taken: T) => void };

const shown = (value: unknown): string => {
  if (value === null || value === undefined || value === '') return 'nothing';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'object')
    return (
      Object.entries(value)
        .map(([name, part]) => `${name} ${shown(part)}`)
        .join(', ') || 'nothing'
    );
  return typeof value === 'string' ? value : JSON.stringify(value);
};

/** Somebody saved the same meanwhile: both stand side by side, each field is chosen, and nothing is lost of either. */
export function Meanwhile<T extends object>({ was, theirs, mine, words = {}, onMerge }: Props<T>) {
  const found = differences(was, theirs, mine);
  const [kept, setKept] = useState<ReadonlySet<string>>(
    () => new Set(found.filter((one) => one.by !== 'them').map((one) => one.field)),
  );
  const choose = (field: string, own: boolean) =>
    setKept(new Set([...kept].filter((one) => one !== field).concat(own ? [field] : [])));
  return (
    <section aria-label="Changed meanwhile" className="rounded-lg border border-minor/50 bg-sheet p-3">
      <h2>Somebody changed this while you had it open</h2>
      {found.length === 0 ? (
        <p className="mt-1 text-muted">They changed it to what stands here. Take it, and nothing is left to save.</p>
      ) : (
        <table className="mt-2 w-full">
          <thead className="text-left text-muted">
            <tr>
              {['', 'there now', 'yours'].map((name) => (
                <th key={name} className="py-1 pr-3 font-normal">
                  {name || <span className="sr-only">field</span>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {found.map(({ field, theirs: there, mine: here, by }) => (
              <tr key={field} className="border-t border-line align-top">
                <th className="py-1.5 pr-3 text-left font-medium">
                  {words[field] ?? field.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)}
                  {by === 'both' && <span className="block text-[13px] font-normal text-minor">both changed it</span>}
                </th>
                {[there, here].map((value, i) => (
                  <td key={i} className="py-1.5 pr-3">
                    <label className="flex items-baseline gap-1.5 break-words">
                      <input
                        type="radio"
                        name={`meanwhile-${field}`}
                        checked={kept.has(field) === (i === 1)}
                        onChange={() => choose(field, i === 1)}
                      />
                      <span className="min-w-0">{shown(value)}</span>
                    </label>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className="mt-2 flex justify-end">
        <Button onClick={() => onMerge(merged(theirs, mine, found, kept))}>Take these</Button>
      </div>
    </section>
  );
}
