import { useQueries } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useId, useMemo, useState } from 'react';
import { fleet, metrics as metricsAsked, people as peopleAsked, rules as rulesAsked, watch as watchAsked } from '../api/queries';
import { inputLook } from './controls';
import { type Findable, found } from './found';

const PAGES: Findable[] = [
  { kind: 'page', name: 'Watch', about: 'what needs a person now', to: '/' },
  { kind: 'page', name: 'Watch on a wall', about: 'large, with nothing to press', to: '/wall' },
  { kind: 'page', name: 'Fleet', about: 'every target', to: '/fleet' },
  { kind: 'page', name: 'Cost', about: 'what collecting takes', to: '/fleet/cost' },
  { kind: 'page', name: 'Metrics', about: 'charts of formulas', to: '/metrics' },
  { kind: 'page', name: 'Rules', about: 'what raises alerts', to: '/rules' },
  { kind: 'page', name: 'Delivery', about: 'how messages reach people, what waits, what was given up', to: '/delivery' },
  { kind: 'page', name: 'Setup', about: 'people, what is kept, who changed what', to: '/setup' },
];
/** Targets, metrics, rules, people, incidents and pages by their words. */
export default function Search({ onDone }: { onDone: () => void }) {
  const navigate = useNavigate();
  const list = useId();
  const [words, setWords] = useState('');
  const [chosen, setChosen] = useState(0);
  const answers = useQueries({
    queries: [
      fleet.targets(),
      metricsAsked.all(),
      rulesAsked.all(),
      peopleAsked.all(),
      { ...watchAsked.over(6), refetchInterval: false },
    ],
  });
  const [targets, metrics, rules, people, watch] = answers;
  const failed = answers.find((answer) => answer.error && answer.data === undefined)?.error;
  const all = useMemo(
    (): Findable[] => [
      ...PAGES,
      ...(watch.data?.open ?? []).map((one): Findable => ({
        kind: 'incident',
        name: one.title,
        about: one.status,
        to: `/incidents/${one.id}`,
      })),
      ...(watch.data?.past ?? [])
        .filter((one) => one.status === 'resolved')
        .map((one): Findable => ({ kind: 'incident', name: one.title, about: 'resolved', to: `/incidents/${one.id}` })),
      ...(rules.data ?? []).map((one): Findable => ({
        kind: 'rule',
        name: one.definition.name,
        about: one.definition.formula,
        to: `/rules/${one.id}`,
      })),
      ...(targets.data ?? []).map((one): Findable => ({
        kind: 'target',
        name: one.name,
        about: Object.values(one.labels).join(' · '),
        to: `/fleet/${one.id}`,
      })),
      ...(metrics.data ?? []).map((one): Findable => ({
        kind: 'metric',
        name: one.name,
        about: one.help,
        to: '/metrics',
        formula: one.type === 'counter' ? `rate(${one.name}, 5m)` : one.name,
      })),
      ...(people.data ?? []).map((one): Findable => ({
        kind: 'person',
        name: one.name,
        about: `${one.email} · ${one.role}`,
        to: '/setup',
      })),
    ],
    [targets.data, metrics.data, rules.data, people.data, watch.data],
  );
  const hits = found(all, words);
  const go = (hit: Findable | undefined) => {
    if (!hit) return;
    onDone();
    void navigate({ to: hit.to, search: hit.formula ? { formula: hit.formula } : {} } as Parameters<typeof navigate>[0]);
  };
  return (
    <>
      <input
        role="combobox"
        aria-label="Find anything"
        aria-expanded={hits.length > 0}
        aria-controls={list}
        aria-activedescendant={hits.length > 0 ? `${list}-${chosen}` : undefined}
        autoComplete="off"
        placeholder="A target, metric, rule, incident, person or page"
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setChosen(0);
        }}
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
            event.preventDefault();
            setChosen((at) => (at + (event.key === 'ArrowDown' ? 1 : -1) + hits.length) % Math.max(1, hits.length));
          } else if (event.key === 'Enter') {
            event.preventDefault();
            go(hits[chosen]);
          }
        }}
        className={inputLook}
      />
      <ul id={list} role="listbox" aria-label="Found" className="mt-2 max-h-[52dvh] overflow-y-auto">
        {hits.map((hit, i) => (
          <li
            key={`${hit.kind} ${hit.to} ${hit.name}`}
            id={`${list}-${i}`}
            role="option"
            aria-selected={i === chosen}
            ref={(element) => {
              if (i === chosen) element?.scrollIntoView({ block: 'nearest' });
            }}
            onMouseDown={(event) => {
              event.preventDefault();
              go(hit);
            }}
            className="flex cursor-pointer items-baseline gap-3 rounded-lg px-2.5 py-1.5 hover:bg-future aria-selected:bg-accent-soft"
          >
            <span className="w-16 shrink-0 text-[13px] text-muted">{hit.kind}</span>
            <span className="min-w-0 truncate font-medium">{hit.name}</span>
            <span className="min-w-0 flex-1 truncate text-[13px] text-muted">{hit.about}</span>
          </li>
        ))}
      </ul>
      {failed && (
        <p role="alert" className="px-2.5 py-2 text-critical">
          Not everything could be looked through: {failed.message}
        </p>
      )}
      {hits.length === 0 && <p className="px-2.5 py-2 text-muted">Nothing is called that. Try fewer letters.</p>}
    </>
  );
}
