import { useQuery } from '@tanstack/react-query';
import { people } from '../api/queries';
import type { AuditEntry } from '../api/types';
import { Answered } from '../ui/answered';
import { Sheet } from '../ui/controls';
import { dayClock } from '../ui/format';
import { useZone } from '../ui/session';

/** Who changed what, the newest first. */
export function AuditSheet() {
  const zone = useZone();
  const audit = useQuery(people.audit());
  return (
    <Sheet label="Changes" className="col-span-full overflow-x-auto">
      <h2 className="px-4 pt-3 pb-1">Who changed what</h2>
      <Answered
        of={audit}
        what="the changes"
        className="px-4 py-3"
        isEmpty={(entries) => entries.length === 0}
        empty={<p className="px-4 py-3 text-muted">Nothing has been changed yet.</p>}
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
