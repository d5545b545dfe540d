import { toast } from 'sonner';
import * as z from 'zod/mini';
import { send } from '../api/client';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { DialogForm, FormFaults, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';

const schema = z
  .object({
    old: z.string().check(z.minLength(1, 'Enter the one you have now')),
    new: z.string().check(z.minLength(12, 'At least 12 characters')),
    again: z.string(),
  })
  .check(z.refine((fields) => fields.new === fields.again, { path: ['again'], error: 'This is not the same' }));

/** The own password; sessions elsewhere end with the old one. */
export default function PasswordDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <DialogBox open={open} onOpenChange={onOpenChange} title="Your password" wide={440}>
      <PasswordForm onDone={() => onOpenChange(false)} />
    </DialogBox>
  );
}

function PasswordForm({ onDone }: { onDone: () => void }) {
  const form = useSheetForm({
    of: null,
    fieldsOf: () => ({ old: '', new: '', again: '' }),
    schema,
    save: ({ old, new: next }) => send('post', '/api/session/password', { body: { old, new: next } }),
    onSaved: () => {
      toast('Your password is changed. Wherever else you were signed in, you are not any more.');
      onDone();
    },
  });
  const password = { form, type: 'password' } as const;
  return (
    <DialogForm form={form}>
      <TextField {...password} name="old" label="The one you have now" autoComplete="current-password" />
      <TextField {...password} name="new" label="The new one" help="At least 12 characters" autoComplete="new-password" />
      <TextField {...password} name="again" label="The new one again" autoComplete="new-password" />
      <FormFaults form={form} />
      <div className="flex justify-end gap-2 pt-1">
        <Button onClick={onDone}>Cancel</Button>
        <Button type="submit" look="accent" disabled={form.formState.isSubmitting}>
          Change it
        </Button>
      </div>
    </DialogForm>
  );
}
