import { useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import type { Role } from '../api/types';
import { Button, Sheet } from '../ui/controls';
import { FormFaults, SelectField, TextField } from '../ui/form/fields';
import { LeaveGuard } from '../ui/form/leave-guard';
import { useSheetForm } from '../ui/form/sheet-form';
import { RoleOptions } from './role-options';

const EMPTY = { name: '', email: '', role: 'viewer' as Role, password: '' };

export function AddPerson() {
  const queries = useQueryClient();
  const form = useSheetForm({
    of: null,
    fieldsOf: () => EMPTY,
    save: (body) => send('post', '/api/people', { body }),
    onSaved: (person) => {
      toast(`${person.name} can sign in now.`);
      form.reset(EMPTY);
      void queries.invalidateQueries();
    },
  });
  return (
    <Sheet label="Add a person" className="p-4">
      <h2 className="mb-3">Add a person</h2>
      <form className="grid grid-cols-2 gap-3" noValidate onSubmit={form.submit}>
        <TextField form={form} name="name" label="Name" />
        <TextField form={form} name="email" label="E-mail" type="email" autoComplete="off" />
        <SelectField form={form} name="role" label="Role">
          <RoleOptions />
        </SelectField>
        <TextField
          form={form}
          name="password"
          label="First password"
          help="At least 12 characters"
          type="password"
          autoComplete="new-password"
        />
        <FormFaults form={form} />
        <div className="col-span-full">
          <Button type="submit" look="accent" disabled={form.formState.isSubmitting}>
            Add
          </Button>
        </div>
      </form>
      <LeaveGuard when={form.changed} />
    </Sheet>
  );
}
