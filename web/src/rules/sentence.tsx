import clsx from 'clsx';
import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';
import type { RuleFields, Severity } from '../api/types';
import { Field, Select } from '../ui/controls';
import { quantity, span } from '../ui/format';
import { DurationInput, QuantityInput } from '../ui/form/typed-input';
import { unitHelp } from '../ui/form/words';
import { Crystal, SEVERITIES } from '../ui/severity';

type Props = {
  rule: RuleFields;
  unit: string;
  faults: Record<string, string>;
  change: (part: Partial<RuleFields>) => void;
  locked: boolean;
};

/** The rule as a sentence; each underlined slot opens a small editor. */
export function RuleSentence({ rule, unit, faults, change, locked }: Props) {
  const slot = (fields: string[], words: ReactNode, editor: ReactNode) => (
    <Slot words={words} fault={fields.map((field) => faults[field]).find(Boolean)} locked={locked}>
      {editor}
    </Slot>
  );
  const limitField = (field: 'limit' | 'clearLimit', label: string) => (
    <Field label={label} error={faults[field]} help={unitHelp(unit)}>
      <QuantityInput unit={unit} value={rule[field]} onChange={(value) => change({ [field]: value ?? NaN })} />
    </Field>
  );
  const secondsField = (
    field: 'holdSeconds' | 'clearHoldSeconds' | 'blindAfterSeconds' | 'lostAfterSeconds',
    label: string,
    help = 'such as 5m; 0s means at once',
  ) => (
    <Field label={label} error={faults[field]} help={help}>
      <DurationInput value={rule[field] ?? 0} onChange={(value) => change({ [field]: value ?? NaN })} />
    </Field>
  );
  const severityField = (value: Severity | null, onChange: (value: Severity | null) => void, none?: string) => (
    <Field label="Severity">
      <Select value={value ?? ''} onChange={(event) => onChange((event.target.value || null) as Severity | null)}>
        {none && <option value="">{none}</option>}
        {SEVERITIES.map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Select>
    </Field>
  );
  return (
    <div className="text-[17px] leading-[2.1]">
      Raise{' '}
      {slot(
        ['severity'],
        <WithCrystal severity={rule.severity} />,
        severityField(rule.severity, (value) => value && change({ severity: value })),
      )}{' '}
      when the formula below stays{' '}
      {slot(
        ['limit', 'direction'],
        `${rule.direction} ${quantity(rule.limit, unit)}`,
        <div className="space-y-3">
          <Field label="Side">
            <Select value={rule.direction} onChange={(event) => change({ direction: event.target.value as 'above' | 'below' })}>
              <option>above</option>
              <option>below</option>
            </Select>
          </Field>
          {limitField('limit', 'Limit')}
        </div>,
      )}{' '}
      {rule.holdSeconds > 0 ? 'for ' : ''}
      {slot(
        ['holdSeconds'],
        rule.holdSeconds > 0 ? span(rule.holdSeconds * 1000) : 'at once',
        secondsField('holdSeconds', 'How long before it raises'),
      )}
      ;{' '}
      {rule.worseLimit !== null && rule.worseSeverity !== null
        ? slot(
            ['worseLimit', 'worseSeverity'],
            <>
              <WithCrystal severity={rule.worseSeverity} /> from {quantity(rule.worseLimit, unit)}
            </>,
            <WorseEditor rule={rule} unit={unit} faults={faults} change={change} severityField={severityField} />,
          )
        : slot(
            [],
            'no worse step',
            <WorseEditor rule={rule} unit={unit} faults={faults} change={change} severityField={severityField} />,
          )}
      . Clear when it stays{' '}
      {slot(
        ['clearLimit'],
        `${rule.direction === 'above' ? 'at or below' : 'at or above'} ${quantity(rule.clearLimit, unit)}`,
        limitField('clearLimit', 'Clear limit'),
      )}{' '}
      {rule.clearHoldSeconds > 0 ? 'for ' : ''}
      {slot(
        ['clearHoldSeconds'],
        rule.clearHoldSeconds > 0 ? span(rule.clearHoldSeconds * 1000) : 'at once',
        secondsField('clearHoldSeconds', 'How long before it clears'),
      )}
      . With no readings for{' '}
      {slot(
        ['blindAfterSeconds'],
        span(rule.blindAfterSeconds * 1000),
        secondsField('blindAfterSeconds', 'How long without readings', 'At least 1m'),
      )}
      ,{' '}
      {slot(
        ['blindSeverity'],
        rule.blindSeverity ? (
          <>
            raise <WithCrystal severity={rule.blindSeverity} />
          </>
        ) : (
          'tell nobody'
        ),
        severityField(rule.blindSeverity, (value) => change({ blindSeverity: value }), 'tell nobody'),
      )}
      ; after{' '}
      {slot(
        ['lostAfterSeconds'],
        span((rule.lostAfterSeconds ?? 0) * 1000),
        secondsField(
          'lostAfterSeconds',
          'How long without readings',
          'Longer than the time before; what was raised then ends as lost from sight, and whoever was told hears of it',
        ),
      )}{' '}
      it is lost from sight.
    </div>
  );
}

function WorseEditor({
  rule,
  unit,
  faults,
  change,
  severityField,
}: Omit<Props, 'locked'> & {
  severityField: (value: Severity | null, onChange: (value: Severity | null) => void, none?: string) => ReactNode;
}) {
  return (
    <div className="space-y-3">
      {severityField(
        rule.worseSeverity,
        (value) =>
          change({
            worseSeverity: value,
            worseLimit: value === null ? null : (rule.worseLimit ?? rule.limit * (rule.direction === 'above' ? 2 : 0.5)),
          }),
        'no worse step',
      )}
      {rule.worseSeverity && (
        <Field label="From" help={unitHelp(unit)} error={faults['worseLimit'] ?? faults['worseSeverity']}>
          <QuantityInput unit={unit} value={rule.worseLimit} onChange={(value) => change({ worseLimit: value ?? NaN })} />
        </Field>
      )}
    </div>
  );
}

function WithCrystal({ severity }: { severity: Severity }) {
  return (
    <span className="inline-flex items-center gap-1.5 align-baseline">
      <span aria-hidden="true">
        <Crystal severity={severity} size={14} />
      </span>
      {severity}
    </span>
  );
}

function Slot({ words, fault, locked, children }: { words: ReactNode; fault?: string; locked: boolean; children: ReactNode }) {
  if (locked) return <strong className="font-semibold">{words}</strong>;
  return (
    <Popover.Root>
      <Popover.Trigger
        className={clsx(
          'rounded-t border-b-2 px-1.5 py-0.5 leading-[1.3] font-semibold',
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
          className="z-30 w-64 rounded-xl border border-line bg-sheet p-4 shadow-lg"
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
