import clsx from 'clsx';
import { useQueries, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import { useEffect, useMemo, useState } from 'react';
import { ApiError, addressOf } from '../api/client';
import { metrics as metricsAsked, rules as rulesAsked } from '../api/queries';
import { serverNow } from '../api/server-clock';
import { Answered, Old } from '../ui/answered';
import { Chart } from '../ui/chart/chart';
import { lineHue } from '../ui/chart/hues';
import type { ChartSeries } from '../ui/chart/plot';
import { Button, Sheet } from '../ui/controls';
import { dayClock, quantity, span } from '../ui/format';
import { useKeys } from '../ui/keys';
import { PageHead } from '../ui/page-head';
import { SessionContext, useMay, useSession, useZone } from '../ui/session';
import { ZoneSelect } from '../ui/zone';
import { byName, isUsable } from './by-name';
import { DistributionStrip } from './distribution-strip';
import { FilterBar } from './filter-bar';
import { FormulaList, whichRow } from './formula-list';
import { type Look, axes } from './look';
import { LookMenu } from './look-menu';
import { MetricList } from './metric-list';
import { metricOf, named } from './names';
import { Nothing } from './nothing';
import type { Drawn } from './picture';
import { MOST_ROWS, headline, tableRows, union } from './rows';
import { SeriesTable, ValuesTable } from './series-table';
import { ShareMenu } from './share-menu';
import { distribution, shareAbove, stacked } from './statistics';
import { formulaFor, keepFormula, keptFormula, startFormula } from './start';
import { UsedIn } from './used-in';

const SPANS = ['15m', '1h', '6h', '24h', '3d', '7d', '14d'] as const;
const MS: Record<string, number> = {
  '15m': 900_000,
  '1h': 3_600_000,
  '6h': 21_600_000,
  '24h': 86_400_000,
  '3d': 259_200_000,
  '7d': 604_800_000,
  '14d': 1_209_600_000,
};
const spanWords = (name: string) => name.replace('m', ' min').replace('h', ' h').replace('d', ' d');
const HEIGHT = 330;
const POINTS = 700;
const USUAL_POINTS = 120;
const MOST_USUAL = 12;

/** Learn what is normal: pick metrics, filter and split them, see them beside their past, their twins and how often which value. */
export function MetricsPage() {
  const session = useSession();
  const search = useSearch({ from: '/signed-in/metrics' });
  return (
    <SessionContext value={{ ...session, zone: search.zone ?? session.zone }}>
      <Opened formula={search.formula} />
    </SessionContext>
  );
}

/** Without a formula in the address, one to begin with. */
function Opened({ formula }: { formula?: string }) {
  const kept = keptFormula();
  const enabled = formula === undefined && kept === null;
  const rules = useQuery({ ...rulesAsked.all(), enabled });
  const metrics = useQuery({ ...metricsAsked.all(), enabled });
  if (enabled && !rules.data) return <Answered of={rules} what="the rules" children={() => null} />;
  if (enabled && !metrics.data) return <Answered of={metrics} what="the metrics" children={() => null} />;
  const start = formula ?? startFormula(kept, rules.data ?? [], metrics.data ?? []);
  if (start !== undefined) return <Explorer start={start} />;
  return (
    <div className="mt-4">
      <PageHead title="Metrics">No metrics yet.</PageHead>
      <p className="mt-2 text-muted">
        Metrics come from targets.{' '}
        <Link to="/fleet" className="text-ink underline">
          Add a target
        </Link>
        , and its first readings are here within its interval.
      </p>
    </div>
  );
}

function Explorer({ start }: { start: string }) {
  const zone = useZone();
  const mayChange = useMay()('write rules');
  const navigate = useNavigate();
  const search = useSearch({ from: '/signed-in/metrics' });
  const formulas = useMemo(
    () => [search.formula ?? start, ...(search.also ?? [])].slice(0, MOST_ROWS),
    [search.formula, start, search.also],
  );
  const rowNames = useMemo(() => formulas.map((_, i) => search.looks?.[i]?.name), [formulas, search.looks]);
  // What is asked and worked on has no names of rows in it any more.
  const written = useMemo(() => byName(formulas, rowNames), [formulas, rowNames]);
  const chosenSpan = search.span && MS[search.span] ? search.span : '6h';
  const zoomed = search.from !== undefined && search.to !== undefined;
  const form = search.form ?? 'lines';
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const [limit, setLimit] = useState<number | null>(null);
  const [scale, setScale] = useState<{ min: number; max: number; top: number; height: number } | null>(null);
  useEffect(() => setLimit(null), [formulas]);
  const show = (part: Partial<typeof search>) =>
    void navigate({
      to: '/metrics',
      search: { ...search, formula: formulas[0], span: chosenSpan, from: undefined, to: undefined, ...part },
    });
  const showFormulas = (next: string[], takenAway?: number) =>
    show({
      formula: next[0],
      also: next.length > 1 ? next.slice(1) : undefined,
      looks: search.looks?.filter((_, i) => i !== takenAway),
      from: search.from,
      to: search.to,
    });

  const reach = () => {
    const to = zoomed ? search.to! : serverNow();
    return { from: zoomed ? search.from! : to - MS[chosenSpan]!, to };
  };
  const asOf = zoomed ? [search.from, search.to] : chosenSpan;
  const asked = search.ago ? [...written, `(${written[0]}) ago ${search.ago}`] : written;
  const charts = useQueries({
    queries: asked.map((formula) => ({
      ...metricsAsked.chart(formula, asOf, POINTS, reach),
      refetchInterval: zoomed || MS[chosenSpan]! > 86_400_000 ? (false as const) : 10_000,
    })),
  });
  // A formula that is refused says so in its row; one whose answer did not come keeps what was there, and says how old it is.
  const errors = formulas.map((_, i) => {
    const error = charts[i]?.error;
    return error instanceof ApiError && error.field === 'formula' ? error : null;
  });
  const failed = charts.find((chart, i) => chart.error && !errors[i]);
  // The answers change only with these; each drawing hangs on that.
  const answered = charts.map((chart) => `${chart.dataUpdatedAt} ${chart.errorUpdatedAt} ${chart.isPlaceholderData}`).join();
  const datas = useMemo(
    () => formulas.map((_, i) => (errors[i] ? undefined : charts[i]?.data)),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [formulas, answered],
  );
  const first = datas[0];
  const past = search.ago ? charts[formulas.length]?.data : undefined;
  const lineCount = first?.lines.length ?? 0;
  useEffect(() => {
    if (lineCount > 0) keepFormula(written[0]!);
  }, [lineCount, written]);
  const usual = useQuery({
    ...metricsAsked.usual(written[0]!, asOf, USUAL_POINTS, reach),
    enabled: lineCount > 0 && lineCount <= MOST_USUAL && form !== 'stacked' && search.usual !== 'off',
  });

  // All lines stand on the instants of the first formula that has any.
  const base = datas.find((data) => data && data.lines.length > 0);
  const times = useMemo(
    () => (base ? Array.from({ length: base.lines[0]!.values.length }, (_, i) => base.first + i * base.step) : []),
    [base],
  );
  const bands = usual.data && base === first && search.usual !== 'off' ? usual.data : undefined;
  const rows = useMemo(
    () => tableRows(datas, bands, times, (at) => dayClock(at, zone), search.looks),
    [datas, bands, times, zone, search.looks],
  );
  const looks = useMemo(() => formulas.map((_, i) => search.looks?.[i] ?? {}), [formulas, search.looks]);
  const sides = useMemo(
    () =>
      axes(
        looks,
        datas.map((data) => (data && data.lines.length > 0 ? data.unit : undefined)),
      ),
    [looks, datas],
  );
  const unitOn = (side: 'left' | 'right') => datas.find((data, i) => data && data.lines.length > 0 && sides[i] === side)?.unit;
  const showLook = (i: number, look: Look) =>
    show({ looks: looks.map((one, at) => (at === i ? look : one)), from: search.from, to: search.to });
  const visible = useMemo(() => rows.filter((row) => !hidden.has(row.id)), [rows, hidden]);
  const own = useMemo(() => visible.filter((row) => row.formula === 0).map((row) => row.values), [visible]);
  const spread = useMemo(() => distribution(own), [own]);
  const unit = unitOn('left') ?? '';

  const series = useMemo(() => {
    const heights = form === 'stacked' ? stacked(visible.map((row) => row.values)) : null;
    let at = 0;
    const drawn: ChartSeries[] = rows.map((row) => ({
      labels: {},
      name: row.name,
      hidden: hidden.has(row.id),
      hue: row.hue,
      values: heights && !hidden.has(row.id) ? heights[at++]! : row.values,
      own: heights ? row.values : undefined,
      filled: heights !== null,
      second: sides[row.formula] === 'right',
      bold: row.odd !== null,
    }));
    // What is highest is drawn first, so that lower layers lie over it.
    if (heights) drawn.reverse();
    if (past && base === first)
      named(past.lines).forEach((line, i) =>
        drawn.push({ labels: {}, name: `${line.name} ${search.ago} ago`, values: line.values, hue: lineHue(i), ghost: true }),
      );
    return drawn;
  }, [rows, visible, hidden, form, past, base, first, search.ago, sides]);
  const envelope = useMemo(() => (bands ? union(bands, times) : undefined), [bands, times]);

  const stepSpan = (by: number) => {
    const at = SPANS.findIndex((name) => name === chosenSpan);
    show({ span: SPANS[Math.max(0, Math.min(SPANS.length - 1, at + by))] });
  };
  useKeys('Metrics', [
    { key: '[', words: 'a longer span', act: () => stepSpan(1) },
    { key: ']', words: 'a shorter span', act: () => stepSpan(-1) },
    { key: 'n', words: 'back to now', act: () => show({}) },
  ]);

  const writeRule = () => {
    const value = limit ?? spread?.high;
    void navigate({
      to: '/rules/$id',
      params: { id: 'new' },
      search: { formula: written[0]!, limit: value === undefined ? undefined : Number(value.toPrecision(2)) },
    });
  };
  const picture = (): Drawn => ({
    title: formulas[0]!,
    unit,
    times,
    lines: visible.map((row) => ({ name: row.name, hue: row.hue, values: row.values })),
    clock: (at) => dayClock(at, zone),
  });
  const metric = metricOf(written[0]!);

  return (
    <>
      <div className="mt-4 flex flex-wrap items-center justify-between gap-3">
        <PageHead title={`Metrics: ${metric}`}>
          {headline(rows, metric)}{' '}
          <span className="text-[14px] font-normal text-muted">
            {first &&
              [
                `${first.lines.length + first.more} series`,
                first.unit || 'no unit',
                `a point every ${span(first.step)}`,
                `read in ${Math.round(first.tookMs)} ms`,
              ].join(' · ')}
          </span>
        </PageHead>
        <div className="flex gap-2">
          <ShareMenu
            picture={picture}
            disabled={rows.length === 0}
            exportOf={(as) => addressOf('/api/export', { query: { formula: written[0]!, ...reach(), as } })}
          />
          {mayChange && (
            <Button look="accent" onClick={writeRule} disabled={!first}>
              Write a rule from this
            </Button>
          )}
        </div>
      </div>
      {failed && <Old question={failed} what="the chart" />}
      <FormulaList
        formulas={formulas}
        asked={written}
        names={rowNames.filter((name): name is string => name !== undefined && isUsable(name))}
        errors={errors}
        notes={datas.map((data) => (base && data?.lines.length === 0 ? (data.why?.words ?? 'Nothing in this span') : undefined))}
        onShow={showFormulas}
      >
        {(i) => (
          <LookMenu
            which={whichRow(i)}
            look={looks[i]!}
            hue={rows.find((row) => row.formula === i)?.hue ?? lineHue(looks[i]!.hue ?? i)}
            axis={sides[i]!}
            unit={datas[i]?.unit}
            onChange={(look) => showLook(i, look)}
          />
        )}
      </FormulaList>
      <div className="mt-3 grid grid-cols-[250px_minmax(0,1fr)] items-start gap-4 max-lg:grid-cols-1">
        <MetricList chosen={metric} onChoose={(name, type) => show({ formula: formulaFor({ name, type }), also: search.also })} />
        <div className="min-w-0 space-y-4">
          <Sheet className="p-3" label="Chart">
            <div className="mb-1 flex flex-wrap items-center gap-x-4 gap-y-2">
              {metric && (
                <FilterBar
                  metric={metric}
                  formula={written[0]!}
                  onChange={(next) => show({ formula: next, from: search.from, to: search.to })}
                />
              )}
              <label className="flex items-center gap-1.5 text-muted">
                also
                <select
                  aria-label="Compare with"
                  value={search.ago ?? ''}
                  onChange={(event) =>
                    show({ ago: (event.target.value || undefined) as '1d' | '7d' | undefined, from: search.from, to: search.to })
                  }
                  className="rounded-md border border-line bg-sheet px-1.5 py-0.5 text-ink"
                >
                  <option value="">nothing</option>
                  <option value="1d">a day ago</option>
                  <option value="7d">a week ago</option>
                </select>
              </label>
              <label className="flex items-center gap-1.5 text-muted">
                as
                <select
                  aria-label="Form"
                  value={form}
                  onChange={(event) =>
                    show({
                      form: event.target.value === 'lines' ? undefined : (event.target.value as 'stacked' | 'table'),
                      from: search.from,
                      to: search.to,
                    })
                  }
                  className="rounded-md border border-line bg-sheet px-1.5 py-0.5 text-ink"
                >
                  <option>lines</option>
                  <option>stacked</option>
                  <option>table</option>
                </select>
              </label>
              <div role="group" aria-label="Span" className="ml-auto flex items-center gap-0.5">
                {zoomed && (
                  <Button look="quiet" onClick={() => show({})}>
                    back to {spanWords(chosenSpan)}
                  </Button>
                )}
                {SPANS.map((name) => (
                  <button
                    key={name}
                    type="button"
                    aria-pressed={!zoomed && name === chosenSpan}
                    onClick={() => show({ span: name })}
                    className={clsx(
                      'rounded-md px-1.5 py-0.5 whitespace-nowrap text-muted hover:text-ink',
                      'aria-pressed:bg-accent-soft aria-pressed:font-semibold aria-pressed:text-ink',
                    )}
                  >
                    {spanWords(name)}
                  </button>
                ))}
              </div>
            </div>
            {base ? (
              form === 'table' ? (
                <ValuesTable times={times} rows={visible} clock={(at) => dayClock(at, zone)} />
              ) : (
                <div className="flex gap-3">
                  <div className="min-w-0 flex-1">
                    <Chart
                      label={`Chart of ${formulas.join(' and ')}`}
                      times={times}
                      series={series}
                      unit={unit}
                      secondUnit={unitOn('right')}
                      envelope={envelope}
                      zone={zone}
                      height={HEIGHT}
                      limits={
                        limit === null
                          ? []
                          : [
                              {
                                value: limit,
                                hue: 'var(--critical)',
                                words: `limit ${quantity(limit, unit)} · above it ${(shareAbove(own, limit) * 100).toFixed(1)} % of the time`,
                                onDrag: setLimit,
                              },
                            ]
                      }
                      onZoom={(from, to) => show({ from, to })}
                      onBack={() => show({})}
                      onScale={(next) =>
                        setScale((old) =>
                          old &&
                          old.min === next.min &&
                          old.max === next.max &&
                          old.top === next.top &&
                          old.height === next.height
                            ? old
                            : next,
                        )
                      }
                    />
                  </div>
                  {form === 'lines' && spread && scale && (
                    <DistributionStrip
                      found={spread}
                      unit={unit}
                      scale={scale}
                      height={HEIGHT}
                      limit={limit}
                      onLimit={setLimit}
                    />
                  )}
                </div>
              )
            ) : (
              <Nothing
                data={first}
                waits={charts[0]?.isPending ?? false}
                fault={errors[0] ? 'Nothing to draw until the formula is mended.' : (charts[0]?.error?.message ?? null)}
                formula={formulas[0]!}
                onFormula={(next) => show({ formula: next })}
                onReach={(at) => show({ from: at - 3_600_000, to: at + 600_000 })}
              />
            )}
            {base && (
              <div className="mt-1 flex flex-wrap items-baseline gap-x-4 text-[13px] text-muted">
                {form === 'lines' && envelope?.low.some((value) => value !== null) && (
                  <span>
                    <span className="mr-1.5 inline-block h-2.5 w-5 rounded-sm bg-accent-soft align-middle" />
                    usual for these hours in past weeks
                  </span>
                )}
                {form === 'lines' && lineCount <= MOST_USUAL && (
                  <button
                    type="button"
                    className="underline"
                    onClick={() => show({ usual: search.usual === 'off' ? undefined : 'off', from: search.from, to: search.to })}
                  >
                    {search.usual === 'off' ? 'show what is usual' : 'hide what is usual'}
                  </button>
                )}
                {form === 'lines' && spread && limit === null && <span>Click the strip to pick a limit.</span>}
                <span className="ml-auto flex items-center gap-1.5">
                  times in
                  <ZoneSelect
                    value={zone}
                    onChange={(next) => show({ zone: next, from: search.from, to: search.to })}
                    className="max-w-52 rounded-md border border-line bg-sheet px-1.5 py-0.5 text-ink"
                  />
                </span>
              </div>
            )}
          </Sheet>
          {rows.length > 0 && (
            <div className="grid grid-cols-[minmax(0,1fr)_224px] items-start gap-4 max-xl:grid-cols-1">
              <SeriesTable
                rows={rows}
                names={formulas.map((_, i) => looks[i]?.name ?? metricOf(written[i]!))}
                hidden={hidden}
                onToggle={setHidden}
                more={datas.reduce((sum, data) => sum + (data?.more ?? 0), 0)}
              />
              <UsedIn metrics={first?.metrics ?? []} />
            </div>
          )}
        </div>
      </div>
    </>
  );
}
