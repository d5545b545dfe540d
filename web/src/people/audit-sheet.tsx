import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { people } from '../api/queries';
import type { AuditEntry } from '../api/types';
import { Answered } from '../ui/answered';
import { Field, Sheet } from '../ui/controls';
import { PersonSelect } from '../ui/form/person-select';
import { InstantInput } from '../ui/form/typed-input';
import { dayClock } from '../ui/format';
import { useZone } from '../ui/session';

/** Of a minute all is meant, to its last millisecond. */
const LAST_OF_MINUTE = 59_999;

/** Who changed what, the newest first; whose changes and until when stands in the address. */
export function AuditSheet() {
  const zone = useZone();
  const navigate = useNavigate();
  const { who, until } = useSearch({ from: '/signed-in/setup' });
  // What is typed and is no time yet asks for nothing.
  const [at, setAt] = useState<number | null>(until ?? null);
  const audit = useQuery(people.audit({ person: who, until }));
  const set = (part: { who?: number; until?: number }) =>
    void navigate({ to: '/setup', search: { who, until, ...part }, replace: true, resetScroll: false });
  const isOf = who !== undefined || until !== undefined;
  return (
    <Sheet label="Changes" className="col-span-full overflow-x-auto">
      <div className="flex flex-wrap items-start gap-4 px-4 pt-3 pb-2">
        <h2 className="mr-auto">Who changed what</h2>
        <Field label="Who" className="w-56">
          <PersonSelect value={who ?? null} nobody="anybody" onChange={(person) => set({ who: person ?? undefined })} />
        </Field>
        <Field
          label="Until"
          className="w-56"
          help={`in ${zone}`}
          error={Number.isNaN(at) ? `No time in ${zone}; write it like 2026-11-20 03:12` : undefined}
        >
          <InstantInput
            zone={zone}
            value={at}
            placeholder="now"
            onChange={(instant) => {
              setAt(instant);
              if (!Number.isNaN(instant)) set({ until: instant === null ? undefined : instant + LAST_OF_MINUTE });
            }}
          />
        </Field>
      </div>
      <Answered
        of={audit}
        what="the changes"
        className="px-4 py-3"
        isEmpty={(entries) => entries.length === 0}
        empty={
          <p className="px-4 py-3 text-muted">
            {isOf ? 'Nothing was changed by then by whom you chose.' : 'Nothing has been changed yet.'}
          </p>
        }
      >
        {(entries) => (
          <table className="w-full">
            <tbody>
              {entries.map((entry) => (
                <tr key={entry.id} className="border-t border-line">
                  <td className="px-4 py-1.5 whitespace-nowrap text-muted">{dayClock(entry.at, zone)}</td>
                  <td className="px-4 py-1.5 whitespace-nowrap">
                    {entry.person ?? 'Olivine'} <span className="text-muted">{entry.address}</span>
                  </td>
                  <td className="px-4 py-1.5">
                    {entry.action} {entry.subject}
                    {differences(entry) && <span className="text-muted"> · {differences(entry)}</span>}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </Answered>
    </Sheet>
  );
}

/** `limit: 400 → 500`. */
function differences(entry: AuditEntry): string {
  if (!entry.before || !entry.after) return '';
  const before = entry.before as Record<string, unknown>;
  const after = entry.after as Record<string, unknown>;
  return [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .filter((key) => key !== 'version' && JSON.stringify(before[key]) !== JSON.stringify(after[key]))
    .map((key) => `${key}: ${JSON.stringify(before[key])} → ${JSON.stringify(after[key])}`)
    .join(', ');
}
