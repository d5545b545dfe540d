import type { ReactNode } from 'react';
import { Field } from '../ui/controls';
import { span } from '../ui/format';
import { DurationInput } from '../ui/form/typed-input';
import { ClearLimit, GraverLimits, GraverWords, byGravity, clearWords } from './conditions/limits';
import { ThresholdSlots } from './conditions/threshold';
import type { RuleDraft } from './rule-fields';
import { SeverityOrNone, SeveritySelect, Slot, WithCrystal } from './slot';

type Props = {
  rule: RuleDraft;
  unit: string;
  faults: Record<string, string>;
  change: (part: Partial<RuleDraft>) => void;
  locked: boolean;
};

/** The rule as a sentence; each underlined slot opens a small editor. */
export function RuleSentence({ rule, unit, faults, change, locked }: Props) {
  const slot = (fields: string[], words: ReactNode, editor: ReactNode) => (
    <Slot words={words} fault={fields.map((field) => faults[field]).find(Boolean)} locked={locked}>
      {editor}
    </Slot>
  );
  const secondsField = (
    field: 'holdSeconds' | 'clearHoldSeconds' | 'blindAfterSeconds' | 'lostAfterSeconds',
    label: string,
    help = 'such as 5m; 0s means at once',
  ) => (
    <Field label={label} error={faults[field]} help={help}>
      <DurationInput value={rule[field]} onChange={(value) => change({ [field]: value ?? NaN })} />
    </Field>
  );
  const { condition } = rule;
  const set = (next: RuleDraft['condition']) => change({ condition: next });
  const [mildest, ...graver] = byGravity(condition.limits);
  return (
    <div className="text-[17px] leading-[2.1]">
      Raise{' '}
      {mildest &&
        slot(
          ['severity'],
          <WithCrystal severity={mildest.severity} />,
          <Field label="Severity">
            <SeveritySelect
              value={mildest.severity}
              onChange={(severity) => set({ ...condition, limits: [{ ...mildest, severity }, ...graver] })}
            />
          </Field>,
        )}{' '}
      when the formula below stays{' '}
      <ThresholdSlots condition={condition} unit={unit} faults={faults} locked={locked} change={set} />{' '}
      {rule.holdSeconds > 0 ? 'for ' : ''}
      {slot(
        ['holdSeconds'],
        rule.holdSeconds > 0 ? span(rule.holdSeconds * 1000) : 'at once',
        secondsField('holdSeconds', 'How long before it raises'),
      )}
      ;{' '}
      {slot(
        [],
        <GraverWords of={condition} unit={unit} />,
        <GraverLimits of={condition} unit={unit} fault={faults['limits']} onChange={set} />,
      )}
      . Clear when it stays{' '}
      {slot(
        ['clear'],
        clearWords(condition, unit),
        <ClearLimit of={condition} unit={unit} fault={faults['clear']} onChange={set} />,
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
        <SeverityOrNone value={rule.blindSeverity} onChange={(blindSeverity) => change({ blindSeverity })} none="tell nobody" />,
      )}
      ; after{' '}
      {slot(
        ['lostAfterSeconds'],
        span(rule.lostAfterSeconds * 1000),
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
