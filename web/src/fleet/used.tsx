import { Link } from '@tanstack/react-router';
import type { IncidentLine, Metric, RuleName } from '../api/types';
import { Sheet } from '../ui/controls';
import { dayClock, many } from '../ui/format';
import { useZone } from '../ui/session';
import { Crystal } from '../ui/severity';

type Used = { rules: RuleName[]; incidents: IncidentLine[]; metrics: Metric[] };

/** The rules that look at it, what they raised, and what it brings. */
export function Used({ page: { rules, incidents, metrics }, nobody }: { page: Used; nobody: string }) {
  const zone = useZone();
  return (
    <Sheet className="p-4" label="Where it is used">
      <h2 className="mb-2">Where it is used</h2>
      {rules.length === 0 && <p className="text-muted">{nobody}</p>}
      <ul className="space-y-1">
        {rules.map((rule) => (
          <li key={rule.id} className="flex items-center gap-2">
            <Crystal severity={rule.severity} />
            <Link to="/rules/$id" params={{ id: String(rule.id) }} className="hover:underline">
              {rule.name}
            </Link>
          </li>
        ))}
      </ul>
      {incidents.length > 0 && (
        <>
          <h3 className="mt-3 mb-1 font-medium">What it raised</h3>
          <ul className="space-y-1 text-[13px]">
            {incidents.slice(0, 6).map((incident) => (
              <li key={incident.id}>
                <Link to="/incidents/$id" params={{ id: String(incident.id) }} className="hover:underline">
                  {incident.title}
                </Link>{' '}
                <span className="text-muted">{dayClock(incident.openedAt, zone)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-3 text-[13px] text-muted">
        Brings {many(metrics.length, 'metric')}:{' '}
        {metrics.map((metric, i) => (
          <span key={metric.name}>
            {i > 0 && ', '}
            <Link to="/metrics" search={{ formula: metric.name }} className="font-mono text-[12px] break-words hover:underline">
              {metric.name}
            </Link>
          </span>
        ))}
      </p>
    </Sheet>
  );
}
