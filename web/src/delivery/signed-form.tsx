import type { FieldValues, Path } from 'react-hook-form';
import { Button } from '../ui/controls';
import { TextField } from '../ui/form/fields';
import type { SheetForm } from '../ui/form/sheet-form';

/** What both sides sign with: it is never shown again, and stays where nothing is written. */
export function SecretField<F extends FieldValues, T>({
  form,
  name,
  isNew,
}: {
  form: SheetForm<F, T>;
  name: Path<F>;
  isNew: boolean;
}) {
  return (
    <TextField
      form={form}
      name={name}
      label="Secret"
      type="password"
      autoComplete="off"
      help={isNew ? 'Left empty one is made up, and shown once' : 'Left empty it stays as it is'}
    />
  );
}

type Ends = { onRemove?: () => void; onBack: () => void; save: string; disabled: boolean };

/** How a form about another program ends: taken away, left, or kept. */
export function FormEnds({ onRemove, onBack, save, disabled }: Ends) {
  return (
    <div className="flex justify-end gap-2 pt-2">
      {onRemove && (
        <Button look="quiet" className="mr-auto" onClick={onRemove}>
          Remove
        </Button>
      )}
      <Button onClick={onBack}>Back</Button>
      <Button type="submit" look="accent" disabled={disabled}>
        {save}
      </Button>
    </div>
  );
}
