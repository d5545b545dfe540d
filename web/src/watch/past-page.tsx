import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { watch } from '../api/queries';
import type { PastIncident, Severity } from '../api/types';
import { Answered } from '../ui/answered';
import { Field, Input, Select, Sheet } from '../ui/controls';
import { dayClock, many, span, tied } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useZone } from '../ui/session';
import { Crystal, SEVERITIES } from '../ui/severity';
import { useNow } from '../ui/use-now';
import { useSettled } from '../ui/use-settled';

/** What was, to be searched: by words, by severity, a page at a time; what is asked stands in the address. */
export function PastPage() {
  const navigate = useNavigate();
  const asked = useSearch({ from: '/signed-in/past' });
  const [words, setWords] = useState(asked.words ?? '');
  const settled = useSettled(words, 300);
  useEffect(() => {
    if (settled !== (asked.words ?? ''))
      void navigate({ to: '/past', search: { ...asked, words: settled || undefined, before: undefined }, replace: true });
  }, [settled, asked, navigate]);
  const found = useQuery(watch.past(asked));
  return (
    <>
      <div className="mt-4 flex flex-wrap items-end gap-4">
        <div className="mr-auto">
          <PageHead title="Past incidents">{found.data ? foundWords(found.data.incidents, asked.words) : 'What was.'}</PageHead>
        </div>
        <Field label="Words" className="w-64">
          <Input type="search" value={words} placeholder="disk manifests" onChange={(event) => setWords(event.target.value)} />
        </Field>
        <Field label="Severity" className="w-40">
          <Select
            value={asked.severity ?? ''}
            onChange={(event) =>
              void navigate({
                to: '/past',
                search: { ...asked, severity: (event.target.value || undefined) as Severity | undefined, before: undefined },
                replace: true,
              })
            }
          >
            <option value="">any</option>
            {SEVERITIES.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Select>
        </Field>
      </div>
      <Sheet label="Past incidents" className="mt-3">
        <Answered
          of={found}
          what="the incidents"
          className="px-4 py-3"
          isEmpty={(page) => page.incidents.length === 0}
          empty={<p className="px-4 py-6 text-muted">No incident is like that. Fewer words find more.</p>}
        >
          {(page) => (
            <>
              <ul className="divide-y divide-line">
                {page.incidents.map((one) => (
                  <Row key={one.id} incident={one} />
                ))}
              </ul>
              {(page.before !== null || asked.before !== undefined) && (
                <p className="flex gap-4 border-t border-line px-4 py-2.5">
                  {asked.before !== undefined && (
                    <Link to="/past" search={{ ...asked, before: undefined }} className="underline">
                      the newest
                    </Link>
                  )}
                  {page.before !== null && (
                    <Link to="/past" search={{ ...asked, before: page.before }} className="underline">
                      older ones
                    </Link>
                  )}
                </p>
              )}
            </>
          )}
        </Answered>
      </Sheet>
    </>
  );
}

const foundWords = (incidents: readonly PastIncident[], words: string | undefined) =>
  words === undefined ? 'What was, newest first.' : `${many(incidents.length, 'incident has', 'incidents have')} “${words}”.`;

function Row({ incident }: { incident: PastIncident }) {
  const zone = useZone();
  const now = useNow();
  const lasts = (incident.resolvedAt ?? now) - incident.openedAt;
  return (
    <li className="relative flex items-start gap-3 px-4 py-2.5 hover:bg-future">
      <span className="mt-0.5">
        <Crystal severity={incident.severity} />
      </span>
      <div className="min-w-0 flex-1">
        <Link to="/incidents/$id" params={{ id: String(incident.id) }} className="font-semibold after:absolute after:inset-0">
          {tied(incident.title)}
        </Link>
        <p className="text-[13px] text-muted">
          incident {incident.id} · {incident.service} · {dayClock(incident.openedAt, zone)} ·{' '}
          {incident.status === 'resolved' ? `lasted ${span(lasts)}` : `open for ${span(lasts)}`}
          {incident.alerts > 1 && ` · ${incident.alerts} alerts`}
          {incident.acknowledgedBy && ` · ${incident.acknowledgedBy} had it`}
        </p>
      </div>
    </li>
  );
}
