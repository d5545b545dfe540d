import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import clsx from 'clsx';
import { useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { ApiError, read, send } from '../api/client';
import type { Replay, Rule, RuleFields } from '../api/types';
import { metricOf, named } from '../metrics/names';
import { Chart } from '../ui/chart';
import { Button, Field, Input, Sheet, inputLook, labelWords } from '../ui/controls';
import { dayClock, quantity, span } from '../ui/format';
import { Meanwhile } from '../ui/meanwhile';
import { useMayChange, useZone } from '../ui/session';
import { Crystal, HUES } from '../ui/severity';
import { RuleSentence } from './sentence';

const NEW: RuleFields = {
  name: '',
  formula: '',
  severity: 'minor',
  direction: 'above',
  limit: 1,
  holdSeconds: 120,
  clearLimit: 1,
  clearHoldSeconds: 120,
  blindAfterSeconds: 600,
  blindSeverity: null,
  lostAfterSeconds: 259_200,
  worseLimit: null,
  worseSeverity: null,
  service: '',
  runbook: '',
  enabled: true,
};

/** What of a rule a person writes; the rest is told of it. */
function fieldsOf(rule: RuleFields): RuleFields {
  return Object.fromEntries(Object.keys(NEW).map((field) => [field, rule[field as keyof RuleFields]])) as RuleFields;
}

export function RulePage() {
  const { id } = useParams({ from: '/rules/$id' });
  const search = useSearch({ from: '/rules/$id' });
  const saved = useQuery({
    queryKey: ['rule', id],
    queryFn: () => read('/api/rules/{id}', { path: { id } }),
    enabled: id !== 'new',
    refetchOnWindowFocus: false,
    staleTime: Infinity,
  });
  if (id === 'new') {
    const metric = metricOf(search.formula ?? '');
    const limit = search.limit ?? 1;
    return (
      <Editor
        key="new"
        start={{
          ...NEW,
          formula: search.formula ?? '',
          limit,
          clearLimit: Number((limit * 0.9).toPrecision(3)),
          name: metric.replaceAll('_', ' ').replace(/^./, (letter) => letter.toUpperCase()),
        }}
        saved={null}
      />
    );
  }
  if (saved.isError) return <p className="py-10">{saved.error.message}</p>;
  if (!saved.data) return <p className="py-10 text-muted">Loading …</p>;
  return <Editor key={`${saved.data.id}-${saved.data.version}`} start={fieldsOf(saved.data)} saved={saved.data} />;
}

/** A rule is a sentence; beside it stands what it would have raised over the last week, as it changes. */
function Editor({ start: opened, saved: openedRule }: { start: RuleFields; saved: Rule | null }) {
  const zone = useZone();
  const mayChange = useMayChange();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [base, setBase] = useState({ start: opened, saved: openedRule });
  const { start, saved } = base;
  const [rule, setRule] = useState<RuleFields>(start);
  const [hours, setHours] = useState(168);
  const change = (part: Partial<RuleFields>) => setRule((old) => ({ ...old, ...part }));
  const settled = useSettled(rule, 250);

  const replay = useQuery({
    queryKey: ['replay', settled, hours],
    queryFn: () => send('post', '/api/rules/replay', { body: { ...settled, name: settled.name || 'draft', hours } }),
    enabled: settled.formula.trim() !== '',
    placeholderData: (old) => old,
    retry: false,
    refetchOnWindowFocus: false,
    staleTime: 60_000,
  });
  const save = useMutation({
    mutationFn: () =>
      saved
        ? send('put', '/api/rules/{id}', { path: { id: saved.id }, body: { ...rule, version: saved.version } })
        : send('post', '/api/rules', { body: rule }),
    onSuccess: (kept) => {
      queries.setQueryData(['rule', String(kept.id)], kept);
      void queries.invalidateQueries({ queryKey: ['rules'] });
      toast(saved ? 'Changed. The new sentence is in service.' : 'In service.');
      void navigate({ to: '/rules/$id', params: { id: String(kept.id) }, search: {}, replace: true });
    },
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/rules/{id}', { path: { id: saved!.id } }),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['rules'] });
      toast(`Removed “${start.name}”.`, {
        action: {
          label: 'Undo',
          onClick: () =>
            void send('post', '/api/rules', { body: start }).then(
              () => queries.invalidateQueries({ queryKey: ['rules'] }),
              (error: Error) => toast.error(error.message),
            ),
        },
      });
      void navigate({ to: '/rules' });
    },
    onError: (error) => toast.error(error.message),
  });

  const problem = [save.error, replay.error].find((error): error is ApiError => error instanceof ApiError);
  const there = save.error instanceof ApiError && save.error.status === 409 ? (save.error.now as Rule | undefined) : undefined;
  const faults = problem?.field ? { [problem.field]: problem.message } : {};
  const unit = replay.data?.unit ?? saved?.unit ?? '';
  const dirty = !saved || JSON.stringify(rule) !== JSON.stringify(start);
  const spells = replay.data?.spells ?? [];
  const lines = useMemo(() => named(replay.data?.lines ?? []), [replay.data?.lines]);
  const times = useMemo(
    () =>
      replay.data
        ? Array.from({ length: replay.data.lines[0]?.values.length ?? 0 }, (_, i) => replay.data.first + i * replay.data.step)
        : [],
    [replay.data],
  );
  const short = replay.data && shortHistory(replay.data, zone);
  const raised = spells.reduce((sum, spell) => sum + ((spell.clearedAt ?? replay.data?.to ?? 0) - spell.raisedAt), 0);

  return (
    <>
      <div className="mt-4 flex flex-wrap items-center gap-3">
        <h1 className="min-w-0">
          <Link to="/rules" className="font-normal text-muted">
            Rules /
          </Link>{' '}
          {saved ? start.name : 'New rule'}
        </h1>
        <span className="rounded-full border border-line bg-sheet px-3 py-0.5 text-[13px]">
          {!saved ? 'draft' : dirty ? 'draft, differs from live' : rule.enabled ? 'in service' : 'switched off'}
        </span>
        {mayChange && (
          <div className="ml-auto flex flex-wrap gap-2">
            {saved && <Button onClick={() => remove.mutate()}>Remove</Button>}
            {saved && (
              <Button onClick={() => change({ enabled: !rule.enabled })} aria-pressed={!rule.enabled}>
                {rule.enabled ? 'Switch off' : 'Switch on'}
              </Button>
            )}
            {saved && dirty && <Button onClick={() => setRule(start)}>Undo changes</Button>}
            <Button look="accent" onClick={() => save.mutate()} disabled={!dirty || save.isPending}>
              Put into service
            </Button>
          </div>
        )}
      </div>
      {saved?.brokenSince && (
        <p role="alert" className="mt-2 rounded-lg border border-critical/40 bg-sheet px-3 py-2 break-words text-critical">
          Broken since {dayClock(saved.brokenSince, zone)}: {saved.fault} It is asked again, and nobody is told of what it watches
          until it can be evaluated.
        </p>
      )}
      {there ? (
        <div className="mt-3">
          <Meanwhile
            was={start}
            theirs={fieldsOf(there)}
            mine={rule}
            onMerge={(taken) => {
              setBase({ start: fieldsOf(there), saved: there });
              setRule(taken);
              save.reset();
            }}
          />
        </div>
      ) : (
        problem && (
          <p role="alert" className="mt-2 text-critical">
            {problem.message}
          </p>
        )
      )}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_minmax(0,1.65fr)] items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-3">
          <Sheet label="The rule" className="p-4">
            <RuleSentence rule={rule} unit={unit} faults={faults} change={change} locked={!mayChange} />
            <label className="mt-3 block border-t border-line pt-3">
              <span className="sr-only">Formula</span>
              <textarea
                spellCheck={false}
                rows={3}
                readOnly={!mayChange}
                value={rule.formula}
                onChange={(event) => change({ formula: event.target.value })}
                className={clsx(inputLook, 'resize-y font-mono text-[13px]', faults['formula'] && 'border-critical')}
              />
            </label>
          </Sheet>
          {replay.data && <OnsetStrip rule={rule} timing={replay.data.timing} />}
          <Sheet label="About the rule" className="space-y-3 p-4">
            <Field label="Name" help="A noun phrase: it begins the incident's title." error={faults['name']}>
              <Input
                name="name"
                value={rule.name}
                maxLength={120}
                readOnly={!mayChange}
                onChange={(event) => change({ name: event.target.value })}
              />
            </Field>
            <Field
              label="Runbook"
              help="What to do, as words or as a web address. It goes with every message."
              error={faults['runbook']}
            >
              <Input
                name="runbook"
                value={rule.runbook}
                readOnly={!mayChange}
                onChange={(event) => change({ runbook: event.target.value })}
              />
            </Field>
            <Field
              label="Service"
              help="Groups its alerts into incidents. Empty: the label service of each series."
              error={faults['service']}
            >
              <Input
                name="service"
                value={rule.service}
                readOnly={!mayChange}
                onChange={(event) => change({ service: event.target.value })}
              />
            </Field>
          </Sheet>
        </div>
        <Sheet label="Replay" className="min-w-0">
          <div className="flex flex-wrap items-baseline gap-3 border-b border-line px-4 py-2.5">
            <h2>Replay</h2>
            <span className="text-muted">
              {replay.data
                ? `${replay.data.series} series at ${span(replay.data.timing.stepMs)} steps, ${(replay.data.tookMs / 1000).toFixed(2)} s`
                : replay.isError
                  ? 'stands still until the rule is mended'
                  : settled.formula.trim()
                    ? 'running …'
                    : 'write a formula first'}
            </span>
            <select
              aria-label="Span of the replay"
              value={hours}
              onChange={(event) => setHours(Number(event.target.value))}
              className="ml-auto bg-transparent text-muted"
            >
              <option value={24}>last 24 h</option>
              <option value={72}>last 3 d</option>
              <option value={168}>last 7 d</option>
              <option value={336}>last 14 d</option>
            </select>
          </div>
          {replay.data && (
            <>
              <dl className="grid grid-cols-3 border-b border-line max-sm:grid-cols-1">
                {[
                  [String(spells.length), spells.length === 1 ? 'alert' : 'alerts'],
                  [String(spells.filter((spell) => isNight(spell.raisedAt, zone)).length), 'between 22:00 and 06:00'],
                  [raised > 0 ? span(raised) : '–', 'raised in all'],
                ].map(([value, words]) => (
                  <div key={words} className="flex flex-col-reverse border-r border-line px-4 py-2.5 last:border-r-0">
                    <dt className="text-[13px] text-muted">{words}</dt>
                    <dd className="text-[20px] font-semibold">{value}</dd>
                  </div>
                ))}
              </dl>
              {short && (
                <p role="status" className="border-b border-line bg-future px-4 py-2">
                  {short}
                </p>
              )}
              <div className="p-3">
                {lines.length > 0 ? (
                  <Chart
                    label="The formula over the replayed span, with the limit"
                    times={times}
                    series={lines}
                    unit={unit}
                    zone={zone}
                    height={270}
                    bands={spells.map((spell) => ({
                      from: spell.raisedAt,
                      to: spell.clearedAt ?? replay.data.to,
                      hue: HUES[spell.severity],
                    }))}
                    limits={[
                      {
                        value: rule.limit,
                        hue: 'var(--critical)',
                        words: `raise ${rule.direction} ${quantity(rule.limit, unit)}${mayChange ? ' (drag)' : ''}`,
                        onDrag: mayChange
                          ? (value) =>
                              setRule((old) => {
                                const limit = Number(value.toPrecision(3));
                                return {
                                  ...old,
                                  limit,
                                  clearLimit: Number(
                                    (old.limit === 0 ? limit : (old.clearLimit / old.limit) * limit).toPrecision(3),
                                  ),
                                };
                              })
                          : undefined,
                      },
                      {
                        value: rule.clearLimit,
                        hue: 'var(--accent)',
                        words: `clear ${quantity(rule.clearLimit, unit)}`,
                        dashed: true,
                      },
                    ]}
                  />
                ) : (
                  <p className="grid h-64 place-items-center text-muted">No readings in this span for this formula.</p>
                )}
              </div>
              <div className="border-t border-line px-4 py-3">
                <h2 className="mb-2">What it would have raised</h2>
                {spells.length === 0 ? (
                  <p className="text-muted">Nothing in this span.</p>
                ) : (
                  <table className="w-full">
                    <thead className="text-left text-muted">
                      <tr>
                        <th className="w-6 font-normal">
                          <span className="sr-only">severity</span>
                        </th>
                        <th className="font-normal">onset</th>
                        <th className="font-normal">raised after</th>
                        <th className="font-normal">lasted</th>
                        <th className="font-normal">where</th>
                      </tr>
                    </thead>
                    <tbody>
                      {spells.slice(0, 14).map((spell) => (
                        <tr key={`${spell.raisedAt}-${labelWords(spell.labels)}`}>
                          <td className="py-0.5">
                            <Crystal severity={spell.severity} size={13} />
                          </td>
                          <td className="whitespace-nowrap">{dayClock(spell.onsetAt ?? spell.raisedAt, zone)}</td>
                          <td>{span(spell.raisedAt - (spell.onsetAt ?? spell.raisedAt))}</td>
                          <td className="whitespace-nowrap">
                            {spell.clearedAt ? span(spell.clearedAt - spell.raisedAt) : 'still raised'}
                          </td>
                          <td>{labelWords(spell.labels, ['kind', 'service', 'target', 'state'])}</td>
                        </tr>
                      ))}
                    </tbody>
                  </table>
                )}
                {spells.length > 14 && <p className="mt-1 text-muted">and {spells.length - 14} more</p>}
              </div>
            </>
          )}
        </Sheet>
      </div>
    </>
  );
}

/** A replay tells nothing of the time before there were readings. */
function shortHistory({ from, to, knownFrom }: Replay, zone: string): string | null {
  if (knownFrom === null) return 'There are no readings in this span, so this says nothing of how often the rule would raise.';
  const missing = knownFrom - from;
  return missing < (to - from) * 0.02
    ? null
    : `Its readings begin ${dayClock(knownFrom, zone)}: this is what it would have raised in ${span(to - knownFrom)}, not in ${span(to - from)}.`;
}

/** How long from the onset to the first message, part by part. */
function OnsetStrip({ rule, timing }: { rule: RuleFields; timing: Replay['timing'] }) {
  const parts = [
    ['reading', timing.intervalMs, '≤ '],
    ['look', timing.stepMs, '≤ '],
    ['window', timing.windowMs, '≤ '],
    ['hold', rule.holdSeconds * 1000, ''],
    ['gather', timing.gatherMs, ''],
    ['send', timing.sendMs ?? 0, ''],
  ].filter((part): part is [string, number, string] => (part[1] as number) > 0);
  const total = parts.reduce((sum, [, ms]) => sum + ms, 0);
  return (
    <Sheet label="From onset to the first message" className="p-4">
      <h2 className="mb-2">From onset to the first message</h2>
      <div className="flex gap-0.5">
        {parts.map(([name, ms, about], i) => (
          <div key={name} style={{ flexGrow: Math.sqrt(ms), flexBasis: 0 }} className="min-w-14">
            <div className="truncate text-[12px] text-muted">{name}</div>
            <div className="h-4 rounded-sm bg-accent" style={{ opacity: 0.3 + (0.7 * i) / parts.length }} />
            <div className="truncate text-[12px]">{about + (ms < 1000 ? quantity(ms / 1000, 'seconds') : span(ms))}</div>
          </div>
        ))}
      </div>
      <p className="mt-2 text-muted">
        At most about {span(total)} after a sudden change, by the slowest target it looks at
        {timing.sendMs === null ? '; no mail has gone out yet to tell how long sending takes' : ''}.
      </p>
    </Sheet>
  );
}

function isNight(at: number, zone: string): boolean {
  const hour = Number(new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', hourCycle: 'h23' }).format(at));
  return hour >= 22 || hour < 6;
}

/** The value once it has stopped changing. */
function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
