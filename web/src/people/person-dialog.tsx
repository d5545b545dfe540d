import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import type { PersonRow } from '../api/types';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { DialogForm, FormFaults, SelectField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { UsedBy } from '../delivery/used-by';
import { RoleOptions } from './role-options';
import { sayFailure } from '../ui/say-failure';

/** An empty choice is no turn. */
const fieldsOf = ({ role, barred }: PersonRow) => ({
  role,
  barred,
});

/** What somebody may do, their turn, and the ways to keep them out. */
export function PersonDialog({ person, isSelf }: { person: PersonRow; isSelf: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox
      open={open}
      onOpenChange={setOpen}
      title={person.name}
      trigger={
        <button
          type="button"
          aria-label={`Change ${person.name}`}
          className="rounded-md px-2 py-0.5 text-muted hover:text-ink hover:underline"
        >
          change
        </button>
      }
    >
      <PersonForm person={person} isSelf={isSelf} onDone={() => setOpen(false)} />
    </DialogBox>
  );
}

function PersonForm({ person, isSelf, onDone }: { person: PersonRow; isSelf: boolean; onDone: () => void }) {
  const queries = useQueryClient();
  const done = (words: string) => {
    void queries.invalidateQueries();
    toast(words);
    onDone();
  };
  const form = useSheetForm({
    of: person,
    fieldsOf,
    save: (fields, of) =>
      send('put', '/api/people/{id}', {
        path: { id: of.id },
        body: { ...fields, version: of.version },
      }),
    onSaved: (now) =>
      done(
        now.barred && !form.of.barred
          ? `${now.name} is barred: signed out everywhere, and links in mails act no more.`
          : `${now.name} is changed.`,
      ),
  });
  const end = useMutation({
    mutationFn: () => send('post', '/api/people/{id}/end-sessions', { path: { id: person.id } }),
    onSuccess: (now) => done(`${now.name} is signed out everywhere.`),
    onError: sayFailure,
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/people/{id}', { path: { id: person.id } }),
    onSuccess: () => done(`${person.name} is removed. What they did keeps their name.`),
    onError: sayFailure,
  });
  const [asks, setAsks] = useState(false);
  return (
    <DialogForm form={form}>
      <p className="text-muted">{person.email}</p>
      <SelectField form={form} name="role" label="Role">
        <RoleOptions />
      </SelectField>
      <label className="flex items-baseline gap-2">
        <input type="checkbox" {...form.register('barred')} />
        <span>
          Barred{' '}
          <span className="text-muted">from signing in; sessions end at once, and links in mails already sent act no more</span>
        </span>
      </label>
      {form.fault('barred') && (
        <p role="alert" className="text-critical">
          {form.fault('barred')}
        </p>
      )}
      <UsedBy kind="person" name={person.email} />
      <p className="text-[13px]">
        <Link to="/delivery/messages" search={{ person: person.id }} className="underline">
          What {person.name} was told
        </Link>
      </p>
      <FormFaults form={form} />
      <div className="flex flex-wrap justify-end gap-2 pt-2">
        {!isSelf && (
          <Button look="quiet" className="mr-auto" onClick={() => (asks ? remove.mutate() : setAsks(true))}>
            {asks ? `Yes, remove ${person.name}` : 'Remove'}
          </Button>
        )}
        <Button onClick={() => end.mutate()} disabled={end.isPending}>
          Sign out everywhere
        </Button>
        <Button type="submit" look="accent" disabled={form.formState.isSubmitting || !form.changed}>
          Save
        </Button>
      </div>
    </DialogForm>
  );
}
