import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { metrics as asked } from '../api/queries';
import type { SaidFormula } from '../api/types';
import { Button, Field, Input, Select } from '../ui/controls';
import { DurationInput } from '../ui/form/typed-input';
import { hasWords } from '../ui/has-words';
import { NamesInput } from '../ui/form/names-input';
import { ACROSS, REDUCERS, acrossWords, filterWords, metricWords, testOf, windowWords, written } from './said';
import { Slot } from './slot';

type Props = { said: SaidFormula; locked: boolean; fault?: string; onChange: (formula: string) => void };
const FIRST_WINDOW_SECONDS = 300;
const MOST_FOUND = 40;

/** `the mean over 5 min of messaging queue depth where queue is boarding, each series by itself,` */
export function FormulaSlots({ said, locked, fault, onChange }: Props) {
  const set = (part: Partial<SaidFormula>) => onChange(written({ ...said, ...part }));
  return (
    <>
      the{' '}
      <Slot words={windowWords(said)} locked={locked} fault={fault}>
        <div className="space-y-3">
          <Field label="How the window counts">
            <Select
              value={said.reducer ?? ''}
              onChange={(event) =>
                set(
                  event.target.value === ''
                    ? { reducer: null, windowSeconds: 0 }
                    : { reducer: event.target.value, windowSeconds: said.windowSeconds || FIRST_WINDOW_SECONDS },
                )
              }
            >
              <option value="">the last reading</option>
              {[...new Set([...Object.keys(REDUCERS), ...(said.reducer ? [said.reducer] : [])])].map((name) => (
                <option key={name} value={name}>
                  the {REDUCERS[name] ?? name}
                </option>
              ))}
            </Select>
          </Field>
          {said.reducer !== null && (
            <Field label="Over how long" help="such as 5m">
              <DurationInput value={said.windowSeconds} onChange={(value) => value && set({ windowSeconds: value })} />
            </Field>
          )}
        </div>
      </Slot>{' '}
      of{' '}
      <Slot words={metricWords(said.metric)} locked={locked}>
        <MetricChoice metric={said.metric} onChoose={(metric) => set({ metric, tests: [] })} />
      </Slot>{' '}
      where{' '}
      <Slot words={said.tests.length > 0 ? filterWords(said.tests) : 'anything'} locked={locked}>
        <Filters said={said} onChange={(tests) => set({ tests })} />
      </Slot>
      ,{' '}
      <Slot words={acrossWords(said)} locked={locked}>
        <div className="space-y-3">
          <Field label="Series">
            <Select
              value={said.across ?? ''}
              onChange={(event) => set(event.target.value === '' ? { across: null, per: [] } : { across: event.target.value })}
            >
              <option value="">each by itself</option>
              {Object.entries(ACROSS).map(([name, words]) => (
                <option key={name} value={name}>
                  the {words} of several
                </option>
              ))}
            </Select>
          </Field>
          {said.across !== null && (
            <Field label="Per" help="labels, such as broker; none: all series are one">
              <NamesInput value={said.per} onChange={(per) => set({ per })} />
            </Field>
          )}
        </div>
      </Slot>
      ,
    </>
  );
}

function MetricChoice({ metric, onChoose }: { metric: string; onChoose: (metric: string) => void }) {
  const metrics = useQuery(asked.all());
  const [find, setFind] = useState('');
  const fits = hasWords(find);
  const found = (metrics.data ?? []).filter(({ name, help }) => fits(`${metricWords(name)} ${name} ${help}`));
  return (
    <>
      <Input
        type="search"
        aria-label="Search metrics"
        placeholder="cpu, queue, memory …"
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
      <ul className="mt-2 max-h-64 overflow-y-auto">
        {found.slice(0, MOST_FOUND).map(({ name, help, series, unit }) => (
          <li key={name}>
            <button
              type="button"
              aria-current={name === metric}
              onClick={() => onChoose(name)}
              className="w-full rounded px-2 py-1 text-left text-[14px] leading-snug hover:bg-future aria-[current=true]:bg-accent-soft"
            >
              <span className="block font-semibold">{metricWords(name)}</span>
              <span className="block text-[12px] text-muted">
                {series} series{unit && `, ${unit}`}
                {help && ` · ${help}`}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {metrics.data && found.length === 0 && <p className="mt-2 text-muted">No metric has these words.</p>}
    </>
  );
}

function Filters({ said, onChange }: { said: SaidFormula; onChange: (tests: string[]) => void }) {
  const labels = useQuery(asked.labels(said.metric));
  const [label, setLabel] = useState('');
  const chosen = labels.data?.find((one) => one.name === label);
  return (
    <div className="space-y-3 text-[14px] leading-snug">
      {said.tests.map((test) => (
        <div key={test} className="flex items-center gap-2">
          <span className="min-w-0 flex-1 break-words">{filterWords([test])}</span>
          <Button look="quiet" onClick={() => onChange(said.tests.filter((one) => one !== test))}>
            Take out
          </Button>
        </div>
      ))}
      <Field label="Only where">
        <Select value={label} onChange={(event) => setLabel(event.target.value)}>
          <option value="">a label …</option>
          {(labels.data ?? []).map((one) => (
            <option key={one.name} value={one.name}>
              {one.name} ({one.count})
            </option>
          ))}
        </Select>
      </Field>
      {chosen && (
        <Field label={`${label} is`}>
          <Select
            value=""
            onChange={(event) => {
              onChange([...said.tests.filter((one) => !one.startsWith(`${label} = `)), testOf(label, event.target.value)]);
              setLabel('');
            }}
          >
            <option value="">a value …</option>
            {chosen.values.map((value) => (
              <option key={value}>{value}</option>
            ))}
          </Select>
        </Field>
      )}
    </div>
  );
}
