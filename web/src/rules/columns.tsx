import { Link } from '@tanstack/react-router';
import clsx from 'clsx';
import type { RuleRow } from '../api/types';
import { dayClock, many, span, tied, whole } from '../ui/format';
import { useZone } from '../ui/session';
import { Crystal, SEVERITIES } from '../ui/severity';
import { type Column, byText } from '../ui/table/rows';
import { useNow } from '../ui/use-now';

const PHASES = ['raised', 'easing', 'held', 'building', 'blind', 'lost'];
export const isBroken = (rule: RuleRow) => rule.enabled && rule.fault !== null;
/** Alerts that are up, or that nobody sees. */
const upIn = ({ phases }: RuleRow) => PHASES.reduce((sum, phase) => sum + (phases[phase] ?? 0), 0);

/** What it costs: every alert is judged at each look. */
const looksOf = ({ phases, definition, enabled }: RuleRow) =>
  enabled ? (Object.values(phases).reduce((sum, count) => sum + count, 0) * 60) / definition.stepSeconds : 0;

export const RULE_COLUMNS: Column<RuleRow>[] = [
  {
    name: 'severity',
    label: 'gravity',
    track: '64px',
    compare: (a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity),
    cell: (rule) => <Crystal severity={rule.severity} />,
  },
  {
    name: 'name',
    label: 'rule',
    track: 'minmax(220px,1fr)',
    stays: true,
    compare: (a, b) => byText(a.definition.name, b.definition.name),
    cell: (rule) => <Name rule={rule} />,
  },
  { name: 'raises', label: 'raises', track: 'minmax(130px,0.45fr)', cell: (rule) => <Raises rule={rule} /> },
  {
    name: 'now',
    label: 'alerts now',
    track: '130px',
    mostFirst: true,
    compare: (a, b) => Number(isBroken(a)) - Number(isBroken(b)) || upIn(a) - upIn(b),
    cell: (rule) => (isBroken(rule) ? <span className="text-critical">not known</span> : phaseWords(rule.phases)),
  },
  {
    name: 'week',
    label: 'raised in 7 d',
    track: '100px',
    mostFirst: true,
    compare: (a, b) => a.raisedInWeek - b.raisedInWeek,
    cell: ({ raisedInWeek }) => (raisedInWeek === 0 ? <span className="text-muted">never</span> : `${raisedInWeek}×`),
  },
  {
    name: 'last',
    label: 'last raised',
    track: '120px',
    mostFirst: true,
    compare: (a, b) => (a.lastRaisedAt ?? 0) - (b.lastRaisedAt ?? 0),
    cell: (rule) => <LastRaised at={rule.lastRaisedAt} />,
  },
  {
    name: 'worth',
    label: 'marked',
    track: '110px',
    mostFirst: true,
    compare: (a, b) => a.noise - b.noise,
    cell: ({ useful, noise }) =>
      useful + noise === 0 ? (
        <span className="text-muted">nothing</span>
      ) : (
        `${useful > 0 ? `${useful} useful` : ''}${useful > 0 && noise > 0 ? ', ' : ''}${noise > 0 ? `${noise} noise` : ''}`
      ),
  },
  {
    name: 'woken',
    extra: true,
    label: 'at night in 30 d',
    track: '120px',
    mostFirst: true,
    compare: (a, b) => a.woken - b.woken,
    cell: ({ woken }) => (woken === 0 ? <span className="text-muted">woke nobody</span> : many(woken, 'message')),
  },
  {
    name: 'cost',
    extra: true,
    label: 'looks a minute',
    track: '110px',
    mostFirst: true,
    compare: (a, b) => looksOf(a) - looksOf(b),
    cell: (rule) => whole(Math.round(looksOf(rule))),
  },
  {
    name: 'behind',
    extra: true,
    label: 'looked through',
    track: '120px',
    mostFirst: true,
    compare: (a, b) => (b.lookedThrough ?? Infinity) - (a.lookedThrough ?? Infinity),
    cell: ({ lookedThrough, enabled }) => <LookedThrough at={enabled ? lookedThrough : null} />,
  },
  {
    name: 'owner',
    label: 'owner',
    track: '100px',
    compare: (a, b) => byText(a.definition.owner, b.definition.owner),
    cell: ({ definition: { owner } }) => (
      <span className="block truncate">{owner || <span className="text-muted">nobody</span>}</span>
    ),
  },
  {
    name: 'service',
    label: 'service',
    track: '130px',
    compare: (a, b) => byText(a.definition.service, b.definition.service),
    cell: ({ definition: { service } }) => (
      <span className="block truncate">{service || <span className="text-muted">of each series</span>}</span>
    ),
  },
];

function LastRaised({ at }: { at: number | null }) {
  const zone = useZone();
  return at === null ? <span className="text-muted">not in 30 d</span> : <>{dayClock(at, zone)}</>;
}

/** How far a rule is behind the clock; some seconds are how readings travel. */
function LookedThrough({ at }: { at: number | null }) {
  const now = useNow();
  return at === null ? <span className="text-muted">not at all</span> : <>{span(Math.max(0, now - at))} ago</>;
}

function Name({ rule }: { rule: RuleRow }) {
  const zone = useZone();
  const since = rule.brokenSince === null ? '' : ` since ${dayClock(rule.brokenSince, zone)}`;
  const why = rule.fault === null ? null : `broken${since}: ${rule.fault}`;
  return (
    <>
      <span className={clsx('block truncate', !rule.enabled && 'text-muted')}>
        <Link to="/rules/$id" params={{ id: String(rule.id) }} search={{}} className="font-semibold hover:underline">
          {rule.definition.name}
        </Link>
        {!rule.enabled && ' · switched off'}
        {rule.draft && <span className="text-muted"> · has a draft</span>}
      </span>
      <span
        className={clsx('block truncate', why ? 'text-critical' : 'font-mono text-[12px] text-muted')}
        title={why ?? rule.definition.formula}
      >
        {why ?? rule.definition.formula}
      </span>
    </>
  );
}

function Raises({ rule }: { rule: RuleRow }) {
  const { holdSeconds } = rule.definition;
  return (
    <span className={clsx('block min-w-0', !rule.enabled && 'text-muted')} title={rule.words}>
      <span className="block truncate">{tied(rule.words)}</span>
      <span className="block text-muted">{holdSeconds > 0 ? `for ${span(holdSeconds * 1000)}` : 'at once'}</span>
    </span>
  );
}

function phaseWords(counts: Record<string, number>): string {
  const up = PHASES.filter((phase) => counts[phase]).map((phase) => `${counts[phase]} ${phase}`);
  return up.length > 0 ? up.join(', ') : `${counts['calm'] ?? 0} calm`;
}
