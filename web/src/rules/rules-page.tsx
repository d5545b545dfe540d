import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { read } from '../api/client';
import { Input, Sheet } from '../ui/controls';
import { dayClock, quantity, span } from '../ui/format';
import { useMayChange, useZone } from '../ui/session';
import { Crystal } from '../ui/severity';

export function RulesPage() {
  const mayChange = useMayChange();
  const zone = useZone();
  const rules = useQuery({ queryKey: ['rules'], queryFn: () => read('/api/rules'), refetchInterval: 10_000 });
  const [find, setFind] = useState('');
  const shown = (rules.data ?? []).filter((rule) =>
    `${rule.name} ${rule.formula} ${rule.service}`.toLowerCase().includes(find.toLowerCase()),
  );
  const raised = (rules.data ?? []).filter((rule) => (rule.phases['raised'] ?? 0) + (rule.phases['easing'] ?? 0) > 0).length;
  const broken = (rules.data ?? []).filter((rule) => rule.enabled && rule.fault !== null).length;
  return (
    <>
      <div className="mt-4 flex flex-wrap items-center justify-between gap-3">
        <h1>
          {rules.data ? `${rules.data.filter((rule) => rule.enabled).length} rules in service, ` : 'Rules'}
          {broken > 0 && (
            <span className="text-critical">{broken === 1 ? 'one of them is broken, ' : `${broken} of them are broken, `}</span>
          )}
          {rules.data && (
            <span className="font-normal text-muted">{raised === 0 ? 'none raised now.' : `${raised} with a raised alert.`}</span>
          )}
        </h1>
        <div className="flex gap-2">
          <Input
            type="search"
            aria-label="Search rules"
            placeholder="Search rules"
            value={find}
            onChange={(event) => setFind(event.target.value)}
            className="w-56"
          />
          {mayChange && (
            <Link
              to="/rules/$id"
              params={{ id: 'new' }}
              search={{}}
              className="rounded-lg bg-accent px-3.5 py-1.5 font-semibold whitespace-nowrap text-sheet"
            >
              New rule
            </Link>
          )}
        </div>
      </div>
      <Sheet className="mt-3 overflow-x-auto" label="Rules">
        <table className="w-full">
          <thead className="text-left text-muted">
            <tr>
              {['', 'rule', 'raises', 'alerts now', 'raised in 7 d', 'service'].map((name) => (
                <th key={name} className="px-3 py-2 font-normal first:w-8">
                  {name || <span className="sr-only">severity</span>}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {shown.map((rule) => (
              <tr key={rule.id} className={rule.enabled ? 'border-t border-line' : 'border-t border-line text-muted'}>
                <td className="px-3 py-2">
                  <Crystal severity={rule.severity} />
                </td>
                <td className="px-3 py-2">
                  <Link to="/rules/$id" params={{ id: String(rule.id) }} search={{}} className="font-semibold hover:underline">
                    {rule.name}
                  </Link>
                  {!rule.enabled && <span className="text-muted"> · switched off</span>}
                  <code className="block font-mono text-[12px] break-all text-muted">{rule.formula}</code>
                  {rule.fault && (
                    <span className="text-critical">
                      broken{rule.brokenSince !== null && ` since ${dayClock(rule.brokenSince, zone)}`}: {rule.fault}
                    </span>
                  )}
                </td>
                <td className="px-3 py-2 whitespace-nowrap">
                  {rule.direction} {quantity(rule.limit, rule.unit)}
                  <span className="block text-muted">
                    {rule.holdSeconds > 0 ? `for ${span(rule.holdSeconds * 1000)}` : 'at once'}
                  </span>
                </td>
                <td className="px-3 py-2 whitespace-nowrap">
                  {rule.enabled && rule.fault !== null ? <span className="text-critical">not known</span> : phases(rule.phases)}
                </td>
                <td className="px-3 py-2">
                  {rule.raisedInWeek === 0 ? <span className="text-muted">never</span> : `${rule.raisedInWeek}×`}
                </td>
                <td className="px-3 py-2">{rule.service || <span className="text-muted">of each series</span>}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {rules.data && shown.length === 0 && (
          <p className="px-3 py-4 text-muted">
            {rules.data.length === 0
              ? 'No rules yet. Open Metrics, find a chart, and write a rule from it.'
              : 'No rule has these words.'}
          </p>
        )}
      </Sheet>
    </>
  );
}

function phases(counts: Record<string, number>): string {
  const up = ['raised', 'easing', 'building', 'blind', 'lost']
    .filter((phase) => counts[phase])
    .map((phase) => `${counts[phase]} ${phase}`);
  return up.length > 0 ? up.join(', ') : `${counts['calm'] ?? 0} calm`;
}
