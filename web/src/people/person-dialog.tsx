import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import type { PersonRow, Role } from '../api/types';
import { Button, Field, Select } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { Meanwhile } from '../ui/meanwhile';

const PLACES = [1, 2, 3, 4, 5, 6, 7, 8];
const fieldsOf = ({ role, rotaPlace, barred }: PersonRow) => ({ role, rotaPlace, barred });

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
  const [base, setBase] = useState(person);
  const [fields, setFields] = useState(() => fieldsOf(person));
  const done = (words: string) => {
    void queries.invalidateQueries();
    toast(words);
    onDone();
  };
  const save = useMutation({
    mutationFn: () => send('put', '/api/people/{id}', { path: { id: person.id }, body: { ...fields, version: base.version } }),
    onSuccess: (now) =>
      done(
        now.barred && !base.barred
          ? `${now.name} is barred: signed out everywhere, and links in mails act no more.`
          : `${now.name} is changed.`,
      ),
  });
  const end = useMutation({
    mutationFn: () => send('post', '/api/people/{id}/end-sessions', { path: { id: person.id } }),
    onSuccess: (now) => done(`${now.name} is signed out everywhere.`),
    onError: (error) => toast.error(error.message),
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/people/{id}', { path: { id: person.id } }),
    onSuccess: () => done(`${person.name} is removed. What they did keeps their name.`),
    onError: (error) => toast.error(error.message),
  });
  const [asks, setAsks] = useState(false);
  const problem = save.error instanceof ApiError ? save.error : undefined;
  const there = problem?.status === 409 ? (problem.now as PersonRow | undefined) : undefined;
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <p className="text-muted">{person.email}</p>
      <div className="grid grid-cols-[minmax(0,1fr)_120px] gap-3">
        <Field label="Role" error={problem?.field === 'role' ? problem.message : undefined}>
          <Select
            name="role"
            value={fields.role}
            onChange={(event) => setFields({ ...fields, role: event.target.value as Role })}
          >
            <option value="viewer">viewer: reads</option>
            <option value="engineer">engineer: answers incidents, writes rules</option>
            <option value="administrator">administrator: also keeps the people</option>
          </Select>
        </Field>
        <Field label="Turn on call">
          <Select
            name="turn"
            value={fields.rotaPlace ?? ''}
            onChange={(event) => setFields({ ...fields, rotaPlace: event.target.value ? Number(event.target.value) : null })}
          >
            <option value="">none</option>
            {PLACES.map((place) => (
              <option key={place}>{place}</option>
            ))}
          </Select>
        </Field>
      </div>
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          name="barred"
          checked={fields.barred}
          onChange={(event) => setFields({ ...fields, barred: event.target.checked })}
        />
        <span>
          Barred{' '}
          <span className="text-muted">from signing in; sessions end at once, and links in mails already sent act no more</span>
        </span>
      </label>
      {there && (
        <Meanwhile
          was={fieldsOf(base)}
          theirs={fieldsOf(there)}
          mine={fields}
          words={{ rotaPlace: 'turn on call' }}
          onMerge={(taken) => {
            setFields(taken);
            setBase(there);
            save.reset();
          }}
        />
      )}
      {problem && problem.field !== 'role' && !there && (
        <p role="alert" className="text-critical">
          {problem.message}
        </p>
      )}
      <div className="flex flex-wrap justify-end gap-2 pt-2">
        {!isSelf && (
          <Button look="quiet" className="mr-auto" onClick={() => (asks ? remove.mutate() : setAsks(true))}>
            {asks ? `Yes, remove ${person.name}` : 'Remove'}
          </Button>
        )}
        <Button onClick={() => end.mutate()} disabled={end.isPending}>
          Sign out everywhere
        </Button>
        <Button
          type="submit"
          look="accent"
          disabled={save.isPending || JSON.stringify(fields) === JSON.stringify(fieldsOf(base))}
        >
          Save
        </Button>
      </div>
    </form>
  );
}
