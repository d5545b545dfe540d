import type { RuleDefinition, Severity } from '../api/types';
import { Field, Input } from '../ui/controls';
import { limitedOf, severityOf } from './conditions/kinds';
import { byGravity } from './conditions/limits';

type Props = {
  rule: Pick<RuleDefinition, 'condition' | 'words' | 'blindSeverity'>;
  readOnly: boolean;
  fault?: string;
  onChange: (words: Record<string, string>) => void;
};

/** What its messages say beside, at each severity that it raises. */
export function OwnWords({ rule, readOnly, fault, onChange }: Props) {
  const raised = byGravity(limitedOf(rule.condition)?.limits ?? []).map((one) => one.severity);
  const severities: Severity[] = [...new Set([...(raised.length > 0 ? raised : [severityOf(rule.condition)]), ...kept(rule)])];
  return (
    <fieldset>
      <legend className="mb-1 font-medium">Words beside</legend>
      {fault && (
        <p role="alert" className="mb-1 text-critical">
          {fault}
        </p>
      )}
      <div className="space-y-1.5">
        {severities.map((severity) => (
          <Field key={severity} label={severity} className="grid grid-cols-[5rem_1fr] items-center gap-x-2 [&_label]:mb-0">
            <Input
              value={rule.words[severity] ?? ''}
              maxLength={300}
              readOnly={readOnly}
              placeholder="such as: lorries wait at the pier"
              onChange={(event) => onChange({ ...rule.words, [severity]: event.target.value })}
            />
          </Field>
        ))}
      </div>
      <p className="mt-1 text-[13px] text-muted">Said in its messages at that severity.</p>
    </fieldset>
  );
}

const kept = (rule: Pick<RuleDefinition, 'words'>) => Object.keys(rule.words).filter((name) => rule.words[name]) as Severity[];
