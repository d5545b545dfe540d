import { DropdownMenu } from 'radix-ui';
import { useSyncExternalStore } from 'react';
import { Button } from '../controls';
import type { Column } from './rows';

/** Which columns this person does not want to see, by list; they stay so in this browser. */
const ALL_SHOWN = '-';
const known = new Map<string, ReadonlySet<string>>();
const listeners = new Set<() => void>();
const keyOf = (list: string) => `hidden columns of ${list}`;

type Named = { name: string; extra?: boolean };

function hiddenOf(list: string, columns: readonly Named[]): ReadonlySet<string> {
  const found = known.get(list);
  if (found) return found;
  const kept = localStorage.getItem(keyOf(list));
  const extra = columns.filter((column) => column.extra).map((column) => column.name);
  const hidden = new Set(kept === null ? extra : kept === ALL_SHOWN ? [] : kept.split(' '));
  known.set(list, hidden);
  return hidden;
}

function hide(list: string, hidden: ReadonlySet<string>): void {
  known.set(list, hidden);
  localStorage.setItem(keyOf(list), [...hidden].join(' ') || ALL_SHOWN);
  listeners.forEach((listener) => listener());
}

export const useHiddenColumns = (list: string, columns: readonly Named[]): ReadonlySet<string> =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => hiddenOf(list, columns),
  );

/** Chooses the columns of a list. */
export function ColumnsMenu<T>({ list, columns }: { list: string; columns: readonly Column<T>[] }) {
  const hidden = useHiddenColumns(list, columns);
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <Button look="quiet">Columns{hidden.size > 0 && ` (${hidden.size} hidden)`}</Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={6} className="z-30 rounded-xl border border-line bg-sheet p-1.5 shadow-lg">
          {columns
            .filter((column) => !column.stays)
            .map(({ name, label }) => (
              <DropdownMenu.CheckboxItem
                key={name}
                checked={!hidden.has(name)}
                onSelect={(event) => event.preventDefault()}
                onCheckedChange={(shown) =>
                  hide(list, new Set(shown ? [...hidden].filter((one) => one !== name) : [...hidden, name]))
                }
                className="flex cursor-pointer gap-2 rounded-lg px-3 py-1.5 data-highlighted:bg-future"
              >
                <span className="w-4">
                  <DropdownMenu.ItemIndicator>✓</DropdownMenu.ItemIndicator>
                </span>
                {label}
              </DropdownMenu.CheckboxItem>
            ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
