import type { ReactNode } from 'react';
import type { ConditionFields, SaidFormula } from '../api/types';
import { Field, Select } from '../ui/controls';
import { quantity, span } from '../ui/format';
import { DurationInput, QuantityInput } from '../ui/form/typed-input';
import { othersWords } from './changed-words';
import { ChangeSlots } from './conditions/change';
import { DepartureSlots } from './conditions/departure';
import { ForecastSlots } from './conditions/forecast';
import type { ConditionSlots } from './conditions/kind';
import { type Kind, VERBS, limitUnit, limitedOf, severityOf, started, withLimited, withSeverity } from './conditions/kinds';
import { ClearLimit, GraverLimits, GraverWords, clearWords } from './conditions/limits';
import { ThresholdSlots } from './conditions/threshold';
import { FormulaSlots } from './formula-slots';
import { NamesInput } from '../ui/form/names-input';
import { OtherLimits } from './other-limits';
import type { RuleDraft } from './rule-fields';
import { SeverityOrNone, SeveritySelect, Slot, WithCrystal } from './slot';
import { TogetherSlot } from './together-slot';

type Props = {
  rule: RuleDraft;
  /** Its formula as one would say it; null where it is too free for that. */
  said: SaidFormula | null;
  unit: string;
  faults: Record<string, string>;
  change: (part: Partial<RuleDraft>) => void;
  locked: boolean;
};

/** The rule as a sentence; each underlined slot opens a small editor. */
export function RuleSentence({ rule, said, unit, faults, change, locked }: Props) {
  const slot = (fields: string[], words: ReactNode, editor: ReactNode) => (
    <Slot words={words} fault={fields.map((field) => faults[field]).find(Boolean)} locked={locked}>
      {editor}
    </Slot>
  );
  const secondsField = (
    field: 'holdSeconds' | 'clearHoldSeconds' | 'blindAfterSeconds' | 'lostAfterSeconds' | 'stepSeconds',
    label: string,
    help = 'such as 5m; 0s means at once',
  ) => (
    <Field label={label} error={faults[field]} help={help}>
      <DurationInput value={rule[field]} onChange={(value) => change({ [field]: value ?? NaN })} />
    </Field>
  );
  const { condition } = rule;
  const set = (next: ConditionFields) => change({ condition: next });
  const severity = severityOf(condition);
  const limited = limitedOf(condition);
  const measured = limitUnit(condition, unit);
  return (
    <div className="text-[17px] leading-[2.1]">
      Raise{' '}
      {slot(
        ['severity'],
        <WithCrystal severity={severity} />,
        <Field label="Severity">
          <SeveritySelect value={severity} onChange={(next) => set(withSeverity(condition, next))} />
        </Field>,
      )}{' '}
      when{' '}
      {said ? (
        <FormulaSlots said={said} locked={locked} fault={faults['formula']} onChange={(formula) => change({ formula })} />
      ) : (
        'the formula below'
      )}{' '}
      {slot(
        ['kind'],
        VERBS[condition.kind],
        <Field label="What makes it raise">
          <Select value={condition.kind} onChange={(event) => set(started(event.target.value as Kind, condition))}>
            {Object.entries(VERBS).map(([kind, words]) => (
              <option key={kind} value={kind}>
                {words}
              </option>
            ))}
          </Select>
        </Field>,
      )}{' '}
      <OfKind condition={condition} unit={unit} faults={faults} locked={locked} change={set} />{' '}
      {rule.holdSeconds > 0 ? 'for ' : ''}
      {slot(
        ['holdSeconds'],
        rule.holdSeconds > 0 ? span(rule.holdSeconds * 1000) : 'at once',
        secondsField('holdSeconds', 'How long before it raises'),
      )}
      {limited && (
        <>
          ;{' '}
          {slot(
            [],
            <GraverWords of={limited} unit={measured} />,
            <GraverLimits
              of={limited}
              unit={measured}
              fault={faults['limits']}
              onChange={(next) => set(withLimited(condition, next))}
            />,
          )}
          ;{' '}
          {slot(
            ['others'],
            othersWords(rule, unit),
            <OtherLimits
              of={limited}
              others={rule.others}
              unit={measured}
              fault={faults['others']}
              onChange={(others) => change({ others })}
            />,
          )}
          . Clear when it stays{' '}
          {slot(
            ['clear'],
            clearWords(limited, measured),
            <ClearLimit
              of={limited}
              unit={measured}
              fault={faults['clear']}
              onChange={(next) => set(withLimited(condition, next))}
            />,
          )}{' '}
        </>
      )}
      {!limited && '. Clear when it is seen again '}
      {rule.clearHoldSeconds > 0 ? 'for ' : ''}
      {slot(
        ['clearHoldSeconds'],
        rule.clearHoldSeconds > 0 ? span(rule.clearHoldSeconds * 1000) : 'at once',
        secondsField('clearHoldSeconds', 'How long before it clears'),
      )}
      {limited ? (
        <>
          . A window counts when{' '}
          {slot(
            ['seenShare'],
            `${quantity(rule.seenShare, 'ratio')} of it`,
            <Field
              label="How much of a window must be seen"
              error={faults['seenShare']}
              help="With less it cannot be told, which is not calm. A series younger than its window is judged from its first reading on."
            >
              <QuantityInput unit="ratio" value={rule.seenShare} onChange={(value) => change({ seenShare: value ?? NaN })} />
            </Field>,
          )}{' '}
          was seen. With no readings for{' '}
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
            <SeverityOrNone
              value={rule.blindSeverity}
              onChange={(blindSeverity) => change({ blindSeverity })}
              none="tell nobody"
            />,
          )}
          ; after{' '}
        </>
      ) : (
        '. After '
      )}
      {slot(
        ['lostAfterSeconds'],
        span(rule.lostAfterSeconds * 1000),
        secondsField(
          'lostAfterSeconds',
          'How long without readings',
          'Longer than the time before; what was raised then ends as lost from sight, and whoever was told hears of it',
        ),
      )}{' '}
      it is lost from sight.{' '}
      <TogetherSlot value={rule.together} faults={faults} locked={locked} onChange={(together) => change({ together })} /> is an
      alert of its own,{' '}
      {slot(
        ['dependsOn'],
        rule.dependsOn.length === 0 ? 'never held back' : `held back while ${rule.dependsOn.join(' or ')} is raised`,
        <Field
          label="Rules that explain it"
          error={faults['dependsOn']}
          help="their names with commas between; while such an alert is raised for the same labels, this one waits"
        >
          <NamesInput value={rule.dependsOn} placeholder="Broker down" onChange={(dependsOn) => change({ dependsOn })} />
        </Field>,
      )}
      . It looks every{' '}
      {slot(
        ['stepSeconds'],
        span(rule.stepSeconds * 1000),
        secondsField(
          'stepSeconds',
          'How often it looks',
          'From 15s to 1h. What takes days to come needs no look every quarter of a minute, and costs less so.',
        ),
      )}
      .
    </div>
  );
}

function OfKind({ condition, ...rest }: ConditionSlots<ConditionFields>) {
  switch (condition.kind) {
    case 'threshold':
      return <ThresholdSlots condition={condition} {...rest} />;
    case 'departure':
      return <DepartureSlots condition={condition} {...rest} />;
    case 'forecast':
      return <ForecastSlots condition={condition} {...rest} />;
    case 'change':
      return <ChangeSlots condition={condition} {...rest} />;
    case 'absence':
      return null;
  }
}
