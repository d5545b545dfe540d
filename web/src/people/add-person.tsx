import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import type { Role } from '../api/types';
import { Button, Sheet } from '../ui/controls';
import { FormFaults, SelectField, TextField } from '../ui/form/fields';
import { LeaveGuard } from '../ui/form/leave-guard';
import { useSheetForm } from '../ui/form/sheet-form';
import { listed, many } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
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
      <Cards />
    </Sheet>
  );
}

/** People as vCards, out and in. */
function Cards() {
  const queries = useQueryClient();
  const take = useMutation({
    mutationFn: (text: string) => send('post', '/api/people/cards', { body: { text } }),
    onSuccess: ({ added, known, refused }) => {
      void queries.invalidateQueries();
      const left = refused.length > 0 ? ` Left out, as their address is none: ${listed(refused)}.` : '';
      toast(
        `${many(added.length, 'person is', 'people are')} new, as viewers without a password; ${known.length} were there already.${left}`,
      );
    },
    onError: sayFailure,
  });
  return (
    <p className="mt-3 border-t border-line pt-3 text-muted">
      As vCards:{' '}
      <a className="underline" href="/api/people/cards" download="people.vcf">
        take all out
      </a>{' '}
      or{' '}
      <label className="cursor-pointer underline">
        add those of a file …
        <input
          type="file"
          accept=".vcf,text/vcard"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void file.text().then((text) => take.mutate(text));
            event.target.value = '';
          }}
        />
      </label>
    </p>
  );
}
