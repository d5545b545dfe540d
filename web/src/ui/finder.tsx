import { useQueries } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { Dialog } from 'radix-ui';
import { useEffect, useId, useMemo, useState } from 'react';
import { read } from '../api/client';
import { inputLook } from './controls';
import { type Findable, found } from './found';

const PAGES: Findable[] = [
  { kind: 'page', name: 'Watch', about: 'what needs a person now', to: '/' },
  { kind: 'page', name: 'Fleet', about: 'every target', to: '/fleet' },
  { kind: 'page', name: 'Cost', about: 'what collecting takes', to: '/fleet/cost' },
  { kind: 'page', name: 'Metrics', about: 'charts of formulas', to: '/metrics' },
  { kind: 'page', name: 'Rules', about: 'what raises alerts', to: '/rules' },
  { kind: 'page', name: 'Setup', about: 'people, what is kept, who changed what', to: '/setup' },
];
const KEYS: [string, string][] = [
  ['/', 'find anything'],
  ['?', 'these keys'],
  ['j  k', 'next and previous incident'],
  ['a', 'acknowledge the chosen incident'],
  ['[  ]', 'a longer, a shorter span'],
  ['n', 'back to now'],
  ['Alt + click', 'on a series: only this one'],
  ['Esc', 'close what is open'],
];

/** Finds targets, metrics, rules, people, incidents and pages; `/` opens it from anywhere, `?` shows the keys. */
export function Finder() {
  const [open, setOpen] = useState<'find' | 'keys' | null>(null);
  useEffect(() => {
    const keys = (event: KeyboardEvent) => {
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        (event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [contenteditable]'))
      )
        return;
      if (event.key === '/') setOpen('find');
      else if (event.key === '?') setOpen('keys');
      else return;
      event.preventDefault();
    };
    addEventListener('keydown', keys);
    return () => removeEventListener('keydown', keys);
  }, []);
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen('find')}
        className="flex w-44 items-center justify-between rounded-lg border border-line px-3 py-1 text-muted hover:text-ink max-md:w-auto"
        aria-keyshortcuts="/"
      >
        <span className="max-md:sr-only">Find anything</span>
        <kbd className="font-mono text-[12px]">/</kbd>
      </button>
      <Dialog.Root open={open !== null} onOpenChange={(next) => setOpen(next ? 'find' : null)}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-30 bg-black/40" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-[12dvh] left-1/2 z-40 w-[min(600px,94vw)] -translate-x-1/2 rounded-2xl border border-line bg-sheet p-3 shadow-xl"
          >
            <Dialog.Title className={open === 'keys' ? 'px-2 pb-2 text-[18px] font-semibold' : 'sr-only'}>
              {open === 'keys' ? 'Keys' : 'Find anything'}
            </Dialog.Title>
            {open === 'keys' ? <Keys /> : <Search onDone={() => setOpen(null)} />}
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}

function Keys() {
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1.5 px-2 pb-2">
      {KEYS.map(([key, about]) => (
        <div key={key} className="contents">
          <dt className="font-mono text-[13px]">{key}</dt>
          <dd className="text-muted">{about}</dd>
        </div>
      ))}
    </dl>
  );
}

function Search({ onDone }: { onDone: () => void }) {
  const navigate = useNavigate();
  const list = useId();
  const [words, setWords] = useState('');
  const [chosen, setChosen] = useState(0);
  const [targets, metrics, rules, people, watch] = useQueries({
    queries: [
      { queryKey: ['targets'], queryFn: () => read('/api/targets'), staleTime: 5_000 },
      { queryKey: ['metrics'], queryFn: () => read('/api/metrics'), staleTime: 30_000 },
      { queryKey: ['rules'], queryFn: () => read('/api/rules'), staleTime: 30_000 },
      { queryKey: ['people'], queryFn: () => read('/api/people'), staleTime: 60_000 },
      { queryKey: ['watch', 6], queryFn: () => read('/api/watch', { query: { back: 6 } }), staleTime: 30_000 },
    ],
  });
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
        name: one.name,
        about: one.formula,
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
      {hits.length === 0 && <p className="px-2.5 py-2 text-muted">Nothing is called that. Try fewer letters.</p>}
    </>
  );
}
