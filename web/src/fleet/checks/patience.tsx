import clsx from 'clsx';
import { Field, Input } from '../../ui/controls';
import type { Other } from './other-fields';

type SecondsProps = {
  label: string;
  help: string;
  value: number;
  least?: number;
  most?: number;
  className?: string;
  onChange: (seconds: number) => void;
};

/** So many seconds, whole ones or not. */
export function Seconds({ label, help, value, least = 0, most, className, onChange }: SecondsProps) {
  return (
    <Field label={label} help={help} className={clsx('max-w-32', className)}>
      <Input
        type="number"
        min={least}
        max={most}
        step="any"
        value={value}
        onChange={(event) => onChange(Number(event.target.value))}
      />
    </Field>
  );
}

type Props = { value: Other; help?: string; onChange: (part: Partial<Other>) => void };

/** After how many seconds whoever does not answer is given up. */
export const Patience = ({ value, help = 'seconds', onChange }: Props) => (
  <Seconds
    label="Gives up after"
    help={help}
    least={0.1}
    most={60}
    value={value.patienceSeconds}
    onChange={(patienceSeconds) => onChange({ patienceSeconds })}
  />
);
