import { Field, Input } from '../../ui/controls';
import type { Other } from './other-fields';

type Props = { value: Other; help?: string; onChange: (part: Partial<Other>) => void };

/** After how many seconds whoever does not answer is given up. */
export function Patience({ value, help = 'seconds', onChange }: Props) {
  return (
    <Field label="Gives up after" help={help} className="max-w-32">
      <Input
        type="number"
        min={0.1}
        max={60}
        step="any"
        value={value.patienceSeconds}
        onChange={(event) => onChange({ patienceSeconds: Number(event.target.value) })}
      />
    </Field>
  );
}
