import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearch } from '@tanstack/react-router';
import clsx from 'clsx';
import { useEffect, useMemo, useState } from 'react';
import { ApiError, api } from '../api/client';
import type { ChartData, ChartLine, LabelValues, Labels, Metric } from '../api/types';
import { Chart, lineHue } from '../ui/chart';
import { Button, Input, Sheet, inputLook } from '../ui/controls';
import { dayClock, quantity, span } from '../ui/format';
import { useMayChange, useZone } from '../ui/session';

const SPANS = ['15m', '1h', '6h', '24h', '3d', '7d', '14d'] as const;
const MS: Record<string, number> = { '15m': 900_000, '1h': 3_600_000, '6h': 21_600_000, '24h': 86_400_000, '3d': 259_200_000, '7d': 604_800_000, '14d': 1_209_600_000 };
const FIRST = 'mean(messaging_queue_depth where queue = "boarding", 5m)';

/** Learn what is normal: pick a metric, filter and split it, look at it over any span. */
export function MetricsPage() {
  const zone = useZone();
  const mayChange = useMayChange();
  const navigate = useNavigate();
  const search = useSearch({ from: '/metrics' });
  const formula = search.formula ?? FIRST;
  const chosenSpan = search.span && MS[search.span] ? search.span : '6h';
  const zoomed = search.from !== undefined && search.to !== undefined;
  const [draft, setDraft] = useState(formula);
  useEffect(() => setDraft(formula), [formula]);
  const show = (next: { formula?: string; span?: string; from?: number; to?: number }) => void navigate({ to: '/metrics', search: { formula, span: chosenSpan, ...next } });

  const chart = useQuery({
    queryKey: ['chart', formula, zoomed ? [search.from, search.to] : chosenSpan],
    queryFn: ({ signal }) => {
      const to = zoomed ? search.to! : Date.now();
      const from = zoomed ? search.from! : to - MS[chosenSpan]!;
      return api<ChartData>(`/api/chart?formula=${encodeURIComponent(formula)}&from=${from}&to=${to}&points=700`, { signal });
    },
    refetchInterval: zoomed || MS[chosenSpan]! > 86_400_000 ? false : 10_000,
    placeholderData: (old) => old,
    retry: false,
  });
  const error = chart.error instanceof ApiError ? chart.error : null;
  const data = error ? undefined : chart.data;
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const lines = useMemo(() => named(data?.lines ?? []), [data?.lines]);
  const times = useMemo(() => (data ? Array.from({ length: data.lines[0]?.values.length ?? 0 }, (_, i) => data.first + i * data.step) : []), [data]);
  const series = useMemo(() => lines.map((line) => ({ ...line, hidden: hidden.has(line.name) })), [lines, hidden]);
  const metric = metricOf(formula);

  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.closest('input, textarea, select')) return;
      const at = SPANS.findIndex((name) => name === chosenSpan);
      if (event.key === '[') show({ span: SPANS[Math.min(SPANS.length - 1, at + 1)] });
      else if (event.key === ']') show({ span: SPANS[Math.max(0, at - 1)] });
      else if (event.key === 'n') show({});
      else return;
      event.preventDefault();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  });

  const highest = Math.max(...(data?.lines.flatMap((line) => line.values.filter((value): value is number => value !== null)) ?? [0]));
  const writeRule = () => void navigate({ to: '/rules/$id', params: { id: 'new' }, search: { formula, limit: Number.isFinite(highest) ? Number(highest.toPrecision(2)) : undefined } });

  return (
    <>
      <div className="mt-4 flex flex-wrap items-center justify-between gap-3">
        <h1>
          {metric || 'Metrics'} <span className="text-[14px] font-normal text-muted">{data && headline(data)}</span>
        </h1>
        {mayChange && (
          <Button look="accent" onClick={writeRule} disabled={!data}>
            Write a rule from this
          </Button>
        )}
      </div>
      <form
        className="mt-3 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          show({ formula: draft.trim(), from: search.from, to: search.to });
        }}
      >
        <input aria-label="Formula" aria-invalid={error?.field === 'formula'} spellCheck={false} value={draft} onChange={(event) => setDraft(event.target.value)} className={clsx(inputLook, 'font-mono text-[13px]')} />
        <Button type="submit" disabled={draft.trim() === formula || !draft.trim()}>
          Show
        </Button>
      </form>
      {error && <FormulaFault formula={formula} error={error} onSuggest={(text) => show({ formula: text })} />}
      <div className="mt-3 grid grid-cols-[250px_minmax(0,1fr)] items-start gap-4 max-lg:grid-cols-1">
        <MetricList chosen={metric} onChoose={(name, type) => show({ formula: type === 'counter' || name.endsWith('_count') || name.endsWith('_bucket') ? `rate(${name}, 5m)` : name, from: undefined, to: undefined })} />
        <div className="min-w-0 space-y-4">
          <Sheet className="p-3" label="Chart">
            <div className="mb-1 flex flex-wrap items-center gap-x-4 gap-y-2">
              {metric && <FilterBar metric={metric} formula={formula} onChange={(next) => show({ formula: next, from: search.from, to: search.to })} />}
              <div role="group" aria-label="Span" className="ml-auto flex items-center gap-0.5">
                {zoomed && (
                  <Button look="quiet" onClick={() => show({})}>
                    zoomed, back to {chosenSpan}
                  </Button>
                )}
                {SPANS.map((name) => (
                  <button key={name} type="button" aria-pressed={!zoomed && name === chosenSpan} onClick={() => show({ span: name })} className="rounded-md px-2 py-0.5 text-muted hover:text-ink aria-pressed:bg-accent-soft aria-pressed:font-semibold aria-pressed:text-ink">
                    {name.replace('m', ' min').replace('h', ' h').replace('d', ' d')}
                  </button>
                ))}
              </div>
            </div>
            {data && data.lines.length > 0 ? (
              <Chart label={`Chart of ${formula}`} times={times} series={series} unit={data.unit} zone={zone} height={330} onZoom={(from, to) => show({ from, to })} onBack={() => show({})} />
            ) : (
              <div className="grid h-[330px] place-items-center text-muted">
                {chart.isPending ? (
                  'Reading …'
                ) : error ? (
                  'Nothing to draw until the formula is mended.'
                ) : (
                  <p>Nothing here in this span. {data?.newest ? `The newest reading is from ${dayClock(data.newest, zone)}; choose a longer span.` : 'No series passes this filter; loosen it.'}</p>
                )}
              </div>
            )}
          </Sheet>
          {data && data.lines.length > 0 && <Legend lines={lines} unit={data.unit} hidden={hidden} onToggle={setHidden} more={data.more} />}
        </div>
      </div>
    </>
  );
}

function headline(data: ChartData): string {
  return `${data.lines.length + data.more} ${data.lines.length + data.more === 1 ? 'series' : 'series'} · ${data.unit || 'no unit'} · a point every ${span(data.step)} · read in ${Math.round(data.tookMs)} ms`;
}

/** Where the formula is wrong, marked in its text. */
function FormulaFault({ formula, error, onSuggest }: { formula: string; error: ApiError; onSuggest: (formula: string) => void }) {
  const suggestion = /did you mean (.+)\?$/.exec(error.message)?.[1];
  const bytes = new TextEncoder().encode(formula);
  const cut = (from: number, to?: number) => new TextDecoder().decode(bytes.slice(from, to));
  const offset = error.offset ?? 0;
  const end = offset + (error.length ?? 0);
  return (
    <div role="alert" className="mt-2 rounded-lg border border-critical/40 bg-sheet px-3 py-2">
      {error.offset !== undefined && (
        <code className="font-mono text-[13px] break-all">
          {cut(0, offset)}
          <mark className="border-b-2 border-critical bg-transparent font-semibold text-critical">{cut(offset, end) || '⌄'}</mark>
          {cut(end)}
        </code>
      )}
      <p className="text-critical">
        {error.message}{' '}
        {suggestion && error.offset !== undefined && (
          <button type="button" className="font-semibold underline" onClick={() => onSuggest(cut(0, offset) + cut(offset, end).replace(/^[\w:]+/, suggestion) + cut(end))}>
            Use it
          </button>
        )}
      </p>
    </div>
  );
}

function MetricList({ chosen, onChoose }: { chosen: string; onChoose: (name: string, type: string) => void }) {
  const metrics = useQuery({ queryKey: ['metrics'], queryFn: () => api<Metric[]>('/api/metrics'), staleTime: 30_000 });
  const [find, setFind] = useState('');
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const found = (metrics.data ?? []).filter((metric) => words.every((word) => `${metric.name} ${metric.help}`.toLowerCase().includes(word)));
  const groups = Map.groupBy(found, (metric) => metric.name.split('_')[0]!);
  return (
    <Sheet className="flex max-h-[calc(100dvh-190px)] flex-col max-lg:max-h-64" label="Metrics">
      <div className="p-3 pb-2">
        <Input type="search" aria-label="Search metrics" placeholder="cpu, queue, memory …" value={find} onChange={(event) => setFind(event.target.value)} />
      </div>
      <div className="overflow-y-auto pb-2" tabIndex={0} role="group" aria-label="List of metrics">
        {[...groups].map(([group, members]) => (
          <div key={group}>
            <p className="px-3 pt-2 pb-0.5 text-[13px] text-muted">{group}</p>
            {members.map((metric) => (
              <button
                key={metric.name}
                type="button"
                title={`${metric.help}\n${metric.type}${metric.unit ? `, ${metric.unit}` : ''}`}
                aria-current={metric.name === chosen}
                onClick={() => onChoose(metric.name, metric.type)}
                className="flex w-full items-baseline gap-2 px-3 py-1 text-left hover:bg-future aria-[current=true]:bg-accent-soft aria-[current=true]:font-semibold"
              >
                <span className="min-w-0 flex-1">
                  <span className="block truncate">{metric.name.slice(group.length + 1).replaceAll('_', ' ') || metric.name}</span>
                  <span className="block truncate text-[12px] font-normal text-muted">
                    {metric.type}
                    {metric.unit && `, ${metric.unit}`}
                    {metric.help && ` · ${metric.help}`}
                  </span>
                </span>
                <span className="text-muted">{metric.series}</span>
              </button>
            ))}
          </div>
        ))}
        {metrics.data && found.length === 0 && <p className="px-3 py-2 text-muted">{metrics.data.length === 0 ? 'No target has brought a metric yet. Add one in Fleet.' : `Nothing is named “${find}”.`}</p>}
      </div>
    </Sheet>
  );
}

/** Adds a label test to the formula, or splits it: sum or mean per label. */
function FilterBar({ metric, formula, onChange }: { metric: string; formula: string; onChange: (formula: string) => void }) {
  const labels = useQuery({ queryKey: ['labels', metric], queryFn: () => api<LabelValues[]>(`/api/metrics/labels?metric=${encodeURIComponent(metric)}`), staleTime: 30_000 });
  const [label, setLabel] = useState('');
  const chosen = labels.data?.find((one) => one.name === label);
  const useful = (labels.data ?? []).filter((one) => one.count > 1);
  const filter = (value: string) => {
    const test = `${label} = ${JSON.stringify(value)}`;
    const at = formula.indexOf(metric) + metric.length;
    const rest = formula.slice(at);
    const where = /^\s+where\s+/.exec(rest);
    onChange(where ? `${formula.slice(0, at)}${where[0]}${test} and ${rest.slice(where[0].length)}` : `${formula.slice(0, at)} where ${test}${rest}`);
    setLabel('');
  };
  const split = (name: string) => {
    const inner = /^(?:sum|mean|max)\((.*)\) (?:per|dropping) [\w, ]+$/s.exec(formula)?.[1] ?? formula;
    onChange(name === '' ? inner : `mean(${inner}) per ${name}`);
  };
  if (!labels.data) return null;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <label className="flex items-center gap-1.5 text-muted">
        only
        <select aria-label="Label to filter by" value={label} onChange={(event) => setLabel(event.target.value)} className="rounded-md border border-line bg-sheet px-1.5 py-0.5 text-ink">
          <option value="">any label</option>
          {useful.map((one) => (
            <option key={one.name} value={one.name}>
              {one.name} ({one.count})
            </option>
          ))}
        </select>
      </label>
      {chosen && (
        <select aria-label={`Value of ${label}`} value="" onChange={(event) => filter(event.target.value)} className="rounded-md border border-line bg-sheet px-1.5 py-0.5">
          <option value="">is …</option>
          {chosen.values.map((value) => (
            <option key={value}>{value}</option>
          ))}
        </select>
      )}
      <label className="flex items-center gap-1.5 text-muted">
        mean per
        <select aria-label="Split by label" value={/\) per (\w+)$/.exec(formula)?.[1] ?? ''} onChange={(event) => split(event.target.value)} className="rounded-md border border-line bg-sheet px-1.5 py-0.5 text-ink">
          <option value="">series</option>
          {useful.map((one) => (
            <option key={one.name}>{one.name}</option>
          ))}
        </select>
      </label>
    </div>
  );
}

function Legend({ lines, unit, hidden, onToggle, more }: { lines: { name: string; labels: Labels; values: (number | null)[] }[]; unit: string; hidden: ReadonlySet<string>; onToggle: (next: ReadonlySet<string>) => void; more: number }) {
  const rows = lines.map((line, i) => {
    const present = line.values.filter((value): value is number => value !== null);
    return { ...line, i, newest: line.values.at(-1) ?? null, low: Math.min(...present), mean: present.reduce((sum, value) => sum + value, 0) / present.length, high: Math.max(...present) };
  });
  const toggle = (name: string, alone: boolean) => {
    if (alone) onToggle(hidden.size === lines.length - 1 && !hidden.has(name) ? new Set() : new Set(lines.map((line) => line.name).filter((one) => one !== name)));
    else onToggle(new Set(hidden.has(name) ? [...hidden].filter((one) => one !== name) : [...hidden, name]));
  };
  return (
    <Sheet className="overflow-x-auto" label="Series">
      <table className="w-full">
        <thead className="text-left text-muted">
          <tr>
            <th className="py-2 pl-4 font-normal">series</th>
            {['now', 'lowest', 'mean', 'highest'].map((name) => (
              <th key={name} className="px-3 py-2 text-right font-normal">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.name} className={clsx('border-t border-line', hidden.has(row.name) && 'opacity-45')}>
              <td className="py-1 pl-4">
                <button type="button" aria-pressed={!hidden.has(row.name)} title="Click: show or hide. With Alt: only this one." onClick={(event) => toggle(row.name, event.altKey)} className="flex items-center gap-2 text-left">
                  <span className="h-[3px] w-3.5 shrink-0 rounded" style={{ background: lineHue(row.i) }} />
                  {row.name || 'all'}
                </button>
              </td>
              <td className="px-3 text-right font-semibold whitespace-nowrap">{quantity(row.newest, unit)}</td>
              <td className="px-3 text-right whitespace-nowrap">{quantity(row.low, unit)}</td>
              <td className="px-3 text-right whitespace-nowrap">{quantity(row.mean, unit)}</td>
              <td className="px-3 text-right whitespace-nowrap">{quantity(row.high, unit)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {more > 0 && <p className="border-t border-line px-4 py-2 text-muted">{more} more series are not drawn; filter or group to see them.</p>}
    </Sheet>
  );
}

/** Names each line by the labels that tell it from the others. */
export function named(lines: ChartLine[]): { name: string; labels: Labels; values: (number | null)[] }[] {
  const names = [...new Set(lines.flatMap((line) => Object.keys(line.labels)))];
  const telling = names.filter((name) => new Set(lines.map((line) => line.labels[name] ?? '')).size > 1);
  const rest = telling.filter((name) => name !== 'target' || telling.every((one) => one === 'target' || one === 'site' || one === 'service'));
  const use = telling.length === 0 ? names.filter((name) => ['host', 'broker', 'container', 'database', 'queue'].includes(name)) : rest;
  return lines.map((line) => ({ ...line, name: use.map((name) => line.labels[name]).filter(Boolean).join(' · ') }));
}

/** The first metric that a formula names. */
export function metricOf(formula: string): string {
  const words = formula.replace(/"(?:[^"\\]|\\.)*"/g, '').matchAll(/[a-zA-Z_:][\w:]*(?!\s*\()/g);
  for (const [word] of words) if (word.includes('_')) return word;
  return '';
}
