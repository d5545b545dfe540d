import { useEffect, useLayoutEffect, useRef, useSyncExternalStore } from 'react';

export type Key = {
  key: string;
  /** What it does, as `?` shows it. */
  words: string;
  act: () => void;
  /** A key that is held down acts once, unless going on is what it is for. */
  repeats?: boolean;
};
type Layer = { where: string; keys: () => Key[] };

const layers = new Set<Layer>();
const listeners = new Set<() => void>();
let known: { where: string; keys: Key[] }[] = [];

/** Where a key is text, or belongs to what has the focus. */
const OWN_KEYS = 'input, textarea, select, [contenteditable], [role=menu], [role=listbox], [role=slider], [role=dialog]';
const OVER_THE_PAGE = '[role=dialog], [role=alertdialog], [role=menu]';

/** What acts on a key: nothing while something lies over the page, while text is typed, or with a modifier. */
function keyFor(event: KeyboardEvent, offered: Key[]): Key | undefined {
  if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || event.isComposing) return undefined;
  if (event.target instanceof Element && event.target.closest(OWN_KEYS)) return undefined;
  if (document.querySelector(OVER_THE_PAGE)) return undefined;
  const found = offered.find((one) => one.key === event.key);
  return found && event.repeat && !found.repeats ? undefined : found;
}

addEventListener('keydown', (event) => {
  const found = keyFor(
    event,
    [...layers].reverse().flatMap((layer) => layer.keys()),
  );
  if (!found) return;
  event.preventDefault();
  found.act();
});

/** Keys of what is shown; they are gone with it, and `?` lists them. */
export function useKeys(where: string, keys: Key[]): void {
  const current = useRef(keys);
  useLayoutEffect(() => {
    current.current = keys;
  });
  useEffect(() => {
    const layer = { where, keys: () => current.current };
    layers.add(layer);
    tell();
    return () => {
      layers.delete(layer);
      tell();
    };
  }, [where]);
}

function tell(): void {
  known = [...layers].map(({ where, keys }) => ({ where, keys: keys() }));
  listeners.forEach((listener) => listener());
}

function useKnownKeys() {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => known,
  );
}

/** The `?` page: what the keys do here, as they were registered. */
export function KeyList() {
  return (
    <div className="space-y-3 px-2 pb-2">
      {useKnownKeys().map(({ where, keys }) => (
        <section key={where} aria-label={where}>
          <h3 className="mb-1 text-muted">{where}</h3>
          <dl className="grid grid-cols-[90px_1fr] gap-y-1.5">
            {keys.map(({ key, words }) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="font-mono text-[13px]">{key}</kbd>
                </dt>
                <dd>{words}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </div>
  );
}
