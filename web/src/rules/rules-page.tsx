import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { rules as asked } from '../api/queries';
import type { RuleRow } from '../api/types';
import { Answered } from '../ui/answered';
import { Input, Sheet } from '../ui/controls';
import { Spelt, dayClock, many, quantity, span } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useMay, useZone } from '../ui/session';
import { Crystal } from '../ui/severity';

const PHASES = ['raised', 'easing', 'building', 'blind', 'lost'];
const isBroken = (rule: RuleRow) => rule.enabled && rule.fault !== null;

export function RulesPage() {
  const rules = useQuery({ ...asked.all(), refetchInterval: 10_000 });
  return (
    <Answered of={rules} what="the rules" className="py-10">
      {(data) => <Rules rules={data} />}
    </Answered>
  );
}

function Rules({ rules }: { rules: RuleRow[] }) {
  const may = useMay();
  const [find, setFind] = useState('');
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = rules.filter(({ name, formula, service }) =>
    words.every((word) => `${name} ${formula} ${service}`.toLowerCase().includes(word)),
  );
  const raised = rules.filter(({ phases }) => (phases['raised'] ?? 0) + (phases['easing'] ?? 0) > 0).length;
  const broken = rules.filter(isBroken).length;
  const inService = `${many(rules.filter((rule) => rule.enabled).length, 'rule')} in service, `;
  const brokenWords = broken === 0 ? '' : `${Spelt(broken).toLowerCase()} of them ${broken === 1 ? 'is' : 'are'} broken, `;
  const raisedWords = raised === 0 ? 'none raised now.' : `${raised} with a raised alert.`;
  return (
    <>
      <div className="mt-4 flex flex-wrap items-center justify-between gap-3">
        <PageHead title="Rules" means={inService + brokenWords + raisedWords}>
          {inService}
          {broken > 0 && <span className="text-critical">{brokenWords}</span>}
          <span className="font-normal text-muted">{raisedWords}</span>
        </PageHead>
        <div className="flex gap-2">
          <Input
            type="search"
            aria-label="Search rules"
            placeholder="Search rules"
            value={find}
            onChange={(event) => setFind(event.target.value)}
            className="w-56"
          />
          {may('write rules') && (
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
              <Row key={rule.id} rule={rule} />
            ))}
          </tbody>
        </table>
        {shown.length === 0 && (
          <p className="px-3 py-4 text-muted">
            {rules.length === 0
              ? 'No rules yet. Open Metrics, find a chart, and write a rule from it.'
              : 'No rule has these words.'}
          </p>
        )}
      </Sheet>
    </>
  );
}

function Row({ rule }: { rule: RuleRow }) {
  const zone = useZone();
  return (
    <tr className={rule.enabled ? 'border-t border-line' : 'border-t border-line text-muted'}>
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
        <span className="block text-muted">{rule.holdSeconds > 0 ? `for ${span(rule.holdSeconds * 1000)}` : 'at once'}</span>
      </td>
      <td className="px-3 py-2 whitespace-nowrap">
        {isBroken(rule) ? <span className="text-critical">not known</span> : phaseWords(rule.phases)}
      </td>
      <td className="px-3 py-2">
        {rule.raisedInWeek === 0 ? <span className="text-muted">never</span> : `${rule.raisedInWeek}×`}
      </td>
      <td className="px-3 py-2">{rule.service || <span className="text-muted">of each series</span>}</td>
    </tr>
  );
}

function phaseWords(counts: Record<string, number>): string {
  const up = PHASES.filter((phase) => counts[phase]).map((phase) => `${counts[phase]} ${phase}`);
  return up.length > 0 ? up.join(', ') : `${counts['calm'] ?? 0} calm`;
}
