import type { RuleDefinition } from '../api/types';
import { Button, Field, Input } from '../ui/controls';
import { type Limited, ClearLimit, GraverLimits, SideAndLimit } from './conditions/limits';

type Others = RuleDefinition['others'];
type Props = { of: Limited; others: Others; unit: string; fault?: string; onChange: (others: Others) => void };

/** Limits of their own for some of what a rule looks at. */
export function OtherLimits({ of, others, unit, fault, onChange }: Props) {
  const set = (at: number, part: Partial<Others[number]> | null) =>
    onChange(part ? others.map((one, i) => (i === at ? { ...one, ...part } : one)) : others.filter((_, i) => i !== at));
  const added = { where: '', limits: of.limits, clear: of.clear, clearTo: of.clearTo ?? null };
  return (
    <div className="space-y-3">
      {fault && (
        <p role="alert" className="text-critical">
          {fault}
        </p>
      )}
      {others.length === 0 && <p className="text-muted">The limits are the same for all it looks at.</p>}
      {others.map((one, i) => {
        const limited = { ...of, ...one };
        const take = ({ limits, clear, clearTo }: Limited) => set(i, { limits, clear, clearTo: clearTo ?? null });
        return (
          <fieldset key={i} className="space-y-2 border-b border-line pb-3">
            <Field label="Where" help={'a filter as in a formula, such as tier = "1"; the first that fits holds'}>
              <Input value={one.where} onChange={(event) => set(i, { where: event.target.value })} className="font-mono" />
            </Field>
            <SideAndLimit of={limited} unit={unit} onChange={take} isSideFixed />
            <GraverLimits of={limited} unit={unit} onChange={take} />
            <ClearLimit of={limited} unit={unit} onChange={take} />
            <Button onClick={() => set(i, null)}>Leave these out</Button>
          </fieldset>
        );
      })}
      <Button onClick={() => onChange([...others, added])}>Other limits for some</Button>
    </div>
  );
}
