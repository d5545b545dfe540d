import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { Button, Field, Input } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';

/** The own password; sessions elsewhere end with the old one. */
export function PasswordDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const empty = { old: '', new: '', again: '' };
  const [fields, setFields] = useState(empty);
  const close = (next: boolean) => {
    setFields(empty);
    save.reset();
    onOpenChange(next);
  };
  const save = useMutation({
    mutationFn: () => send('post', '/api/session/password', { body: { old: fields.old, new: fields.new } }),
    onSuccess: () => {
      toast('Your password is changed. Wherever else you were signed in, you are not any more.');
      close(false);
    },
  });
  const problem = save.error instanceof ApiError ? save.error : undefined;
  const fault = (field: string) => (problem?.field === field ? problem.message : undefined);
  const field = (name: keyof typeof empty, label: string, help?: string, error?: string) => (
    <Field label={label} help={help} error={error}>
      <Input
        type="password"
        name={`password-${name}`}
        autoComplete={name === 'old' ? 'current-password' : 'new-password'}
        value={fields[name]}
        onChange={(event) => setFields({ ...fields, [name]: event.target.value })}
      />
    </Field>
  );
  const differs = fields.again !== '' && fields.again !== fields.new;
  return (
    <DialogBox open={open} onOpenChange={close} title="Your password" wide={440}>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        {field('old', 'The one you have now', undefined, fault('old'))}
        {field('new', 'The new one', 'At least 12 characters', fault('new'))}
        {field('again', 'The new one again', undefined, differs ? 'This is not the same' : undefined)}
        {problem && !problem.field && (
          <p role="alert" className="text-critical">
            {problem.message}
          </p>
        )}
        <div className="flex justify-end gap-2 pt-1">
          <Button onClick={() => close(false)}>Cancel</Button>
          <Button
            type="submit"
            look="accent"
            disabled={save.isPending || !fields.old || !fields.new || fields.again !== fields.new}
          >
            Change it
          </Button>
        </div>
      </form>
    </DialogBox>
  );
}
