import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { type ChangeEvent, type KeyboardEvent, useId, useMemo, useRef, useState } from 'react';
import { metrics as asked } from '../api/queries';
import { inputLook, useFieldParts } from '../ui/controls';
import { type Completion, completionAt } from './completion';
import { metricOf } from './names';

type Props = {
  value: string;
  onChange: (value: string) => void;
  onSubmit?: (value: string) => void;
  label: string;
  invalid: boolean;
  rows?: string[];
  /** On so many lines of text; one where it is not said. */
  lines?: number;
  readOnly?: boolean;
};

const NO_ROWS: string[] = [];

/** A formula with completion of metrics, labels, values and functions, each with its help. */
export function FormulaInput({ value, onChange, onSubmit, label, invalid, rows = NO_ROWS, lines = 1, readOnly }: Props) {
  const list = useId();
  const input = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  const Element = lines > 1 ? 'textarea' : 'input';
  const parts = useFieldParts();
  const [caret, setCaret] = useState<number | null>(null);
  const [chosen, setChosen] = useState(-1);
  const metrics = useQuery(asked.all());
  const functions = useQuery(asked.functions());
  const metric = metricOf(value);
  const labels = useQuery({ ...asked.labels(metric), enabled: caret !== null && metric !== '' });
  const found = useMemo(
    () => (caret === null ? null : completionAt(value, caret, metrics.data ?? [], functions.data ?? [], labels.data ?? [], rows)),
    [value, caret, metrics.data, functions.data, labels.data, rows],
  );
  const options = found?.options ?? [];
  const open = options.length > 0;

  const take = (option: Completion) => {
    const next = value.slice(0, found!.from) + option.insert + value.slice(caret!);
    const at = found!.from + option.insert.length;
    onChange(next);
    setCaret(null);
    setChosen(-1);
    requestAnimationFrame(() => input.current?.setSelectionRange(at, at));
  };
  return (
    <div className="relative min-w-0 flex-1">
      <Element
        ref={input}
        {...parts}
        {...(lines > 1 && { rows: lines })}
        readOnly={readOnly}
        role="combobox"
        aria-label={label}
        aria-invalid={invalid}
        aria-expanded={open}
        aria-controls={list}
        aria-autocomplete="list"
        aria-activedescendant={open && chosen >= 0 ? `${list}-${chosen}` : undefined}
        spellCheck={false}
        autoComplete="off"
        value={value}
        onChange={(event: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) => {
          onChange(event.target.value);
          setCaret(event.target.selectionStart);
          setChosen(-1);
        }}
        onBlur={() => setCaret(null)}
        onKeyDown={(event: KeyboardEvent<HTMLInputElement | HTMLTextAreaElement>) => {
          if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
            if (!open) {
              setCaret(event.currentTarget.selectionStart);
              return;
            }
            event.preventDefault();
            setChosen((at) => (at + (event.key === 'ArrowDown' ? 1 : -1) + options.length) % options.length);
          } else if ((event.key === 'Enter' || event.key === 'Tab') && open && chosen >= 0) {
            event.preventDefault();
            take(options[chosen]!);
          } else if (event.key === 'Enter') {
            event.preventDefault();
            setCaret(null);
            onSubmit?.(value);
          } else if (event.key === 'Escape' && open) {
            event.stopPropagation();
            setCaret(null);
          }
        }}
        className={clsx(inputLook, 'font-mono text-[13px]', lines > 1 && 'resize-y')}
      />
      {open && (
        <ul
          id={list}
          role="listbox"
          aria-label="Completions"
          className="absolute top-full left-0 z-20 mt-1 max-h-72 w-[min(620px,100%)] overflow-y-auto rounded-xl border border-line bg-sheet p-1 shadow-lg"
        >
          {options.map((option, i) => (
            <li
              key={option.insert}
              id={`${list}-${i}`}
              role="option"
              aria-selected={i === chosen}
              onMouseDown={(event) => {
                event.preventDefault();
                take(option);
              }}
              className="flex cursor-pointer items-baseline gap-3 rounded-lg px-2.5 py-1 hover:bg-future aria-selected:bg-accent-soft"
            >
              <span className="font-mono text-[12.5px] whitespace-nowrap">{option.shown}</span>
              <span className="min-w-0 flex-1 truncate text-[13px] text-muted">{option.help}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
