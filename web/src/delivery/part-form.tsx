import type { ReactNode } from 'react';
import type { FieldValues, Path } from 'react-hook-form';
import { Button } from '../ui/controls';
import { DialogForm, FormFaults, TextField } from '../ui/form/fields';
import type { SheetForm } from '../ui/form/sheet-form';

type Props<F extends FieldValues, T> = {
  form: SheetForm<F, T>;
  remove: { mutate: () => void; isPending: boolean };
  isNew: boolean;
  nameHelp: string;
  /** What the fields are called where somebody changed them meanwhile. */
  words?: Record<string, string>;
  /** Why it stays; empty: it can be removed. */
  keeps?: string;
  onCopy: () => void;
  onBack: () => void;
  children: ReactNode;
};

/** What the forms of all parts of the draft share: a name while it is new, and that it is kept, copied, or taken out. */
export function PartForm<F extends FieldValues, T>({
  form,
  remove,
  isNew,
  nameHelp,
  words,
  keeps = '',
  onCopy,
  onBack,
  children,
}: Props<F, T>) {
  return (
    <DialogForm form={form}>
      {isNew && <TextField form={form} name={'name' as Path<F>} label="Name" help={nameHelp} />}
      {children}
      <FormFaults form={form} words={words} />
      {keeps !== '' && !isNew && <p className="text-[13px] text-muted">{keeps}</p>}
      <div className="flex justify-end gap-2 pt-2">
        {!isNew && (
          <>
            <Button look="quiet" disabled={keeps !== '' || remove.isPending} onClick={() => remove.mutate()}>
              Remove
            </Button>
            <Button look="quiet" className="mr-auto" onClick={onCopy}>
              Copy
            </Button>
          </>
        )}
        <Button onClick={onBack}>Back</Button>
        <Button type="submit" look="accent" disabled={form.fields.name === '' || form.formState.isSubmitting}>
          Keep in the draft
        </Button>
      </div>
    </DialogForm>
  );
}

/** What is used stays: `It stays as long as it is used by path boarding.` */
export const keepsWords = (usedBy: string): string => (usedBy === '' ? '' : `It stays as long as it is used by ${usedBy}.`);
