import clsx from 'clsx';
import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';
import type { Severity } from '../api/types';
import { Field, Select } from '../ui/controls';
import { Crystal, SEVERITIES } from '../ui/severity';

export function WithCrystal({ severity }: { severity: Severity }) {
  return (
    <span className="inline-flex items-center gap-1.5 align-baseline">
      <span aria-hidden="true">
        <Crystal severity={severity} size={14} />
      </span>
      {severity}
    </span>
  );
}

/** A part of a rule's sentence: its words, and behind them a small editor. */
export function Slot({
  words,
  fault,
  locked,
  children,
}: {
  words: ReactNode;
  fault?: string;
  locked: boolean;
  children: ReactNode;
}) {
  if (locked) return <strong className="font-semibold">{words}</strong>;
  return (
    <Popover.Root>
      <Popover.Trigger
        className={clsx(
          'rounded-t border-b-2 px-1.5 py-0.5 text-left leading-[1.3] font-semibold',
          fault ? 'border-critical bg-sheet text-critical' : 'border-accent bg-accent-soft',
        )}
      >
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label="This part of the rule"
          sideOffset={6}
          collisionPadding={12}
          className="z-30 max-h-[70vh] w-92 max-w-[92vw] overflow-y-auto rounded-xl border border-line bg-sheet p-4 shadow-lg"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

type SeverityProps<S> = { value: S; onChange: (value: S) => void };

export const SeveritySelect = ({ value, onChange }: SeverityProps<Severity>) => (
  <Select value={value} onChange={(event) => onChange(event.target.value as Severity)}>
    {SEVERITIES.map((name) => (
      <option key={name}>{name}</option>
    ))}
  </Select>
);

export function SeverityOrNone({ value, onChange, none }: SeverityProps<Severity | null> & { none: string }) {
  return (
    <Field label="Severity">
      <Select value={value ?? ''} onChange={(event) => onChange((event.target.value || null) as Severity | null)}>
        <option value="">{none}</option>
        {SEVERITIES.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Select>
    </Field>
  );
}
