import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, read, send } from '../api/client';
import type { AuditEntry, Role } from '../api/types';
import { Button, Field, Input, Select, Sheet } from '../ui/controls';
import { dayClock } from '../ui/format';
import { useSession } from '../ui/session';
import { LimitsSheet } from './limits-sheet';
import { PersonDialog } from './person-dialog';
import { RetentionSheet } from './retention-sheet';
import { SettingsSheet } from './settings-sheet';

/** The people, and for administrators what anyone changed. */
export function SetupPage() {
  const { person } = useSession();
  const people = useQuery({ queryKey: ['people'], queryFn: () => read('/api/people') });
  const mayKeep = person.role === 'administrator';
  return (
    <>
      <h1 className="mt-4">
        {people.data?.length ?? '…'} people,{' '}
        <span className="font-normal text-muted">
          {people.data?.filter((one) => one.rotaPlace !== null).length ?? '…'} of them take turns on call.
        </span>
      </h1>
      <div className="mt-3 grid grid-cols-2 items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-4">
          <Sheet label="People" className="overflow-x-auto">
            <table className="w-full">
              <thead className="text-left text-muted">
                <tr>
                  {['name', 'e-mail', 'role', 'turn', ...(mayKeep ? [''] : [])].map((name) => (
                    <th key={name} className="px-4 py-2 font-normal">
                      {name || <span className="sr-only">change</span>}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {people.data?.map((one) => (
                  <tr key={one.id} className="border-t border-line">
                    <td className={one.barred ? 'px-4 py-1.5 text-muted' : 'px-4 py-1.5 font-semibold'}>
                      {one.name}
                      {one.barred && ' · barred'}
                    </td>
                    <td className="px-4 py-1.5">{one.email}</td>
                    <td className="px-4 py-1.5">{one.role}</td>
                    <td className="px-4 py-1.5">{one.rotaPlace ?? <span className="text-muted">none</span>}</td>
                    {mayKeep && (
                      <td className="px-2 py-1.5 text-right">
                        <PersonDialog key={one.version} person={one} isSelf={one.id === person.id} />
                      </td>
                    )}
                  </tr>
                ))}
              </tbody>
            </table>
          </Sheet>
          {mayKeep && <AddPerson />}
          <RetentionSheet mayChange={mayKeep} />
        </div>
        <div className="space-y-4">
          <SettingsSheet mayChange={mayKeep} />
          <LimitsSheet mayChange={mayKeep} />
        </div>
        {mayKeep && <AuditTrail />}
      </div>
    </>
  );
}

function AddPerson() {
  const queries = useQueryClient();
  const empty = { name: '', email: '', role: 'viewer' as Role, password: '' };
  const [fields, setFields] = useState(empty);
  const add = useMutation({
    mutationFn: () => send('post', '/api/people', { body: fields }),
    onSuccess: () => {
      toast(`${fields.name} can sign in now.`);
      setFields(empty);
      void queries.invalidateQueries();
    },
  });
  const fault = (field: string) => (add.error instanceof ApiError && add.error.field === field ? add.error.message : undefined);
  return (
    <Sheet label="Add a person" className="p-4">
      <h2 className="mb-3">Add a person</h2>
      <form
        className="grid grid-cols-2 gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <Field label="Name" error={fault('name')}>
          <Input value={fields.name} onChange={(event) => setFields({ ...fields, name: event.target.value })} />
        </Field>
        <Field label="E-mail" error={fault('email')}>
          <Input type="email" value={fields.email} onChange={(event) => setFields({ ...fields, email: event.target.value })} />
        </Field>
        <Field label="Role" error={fault('role')}>
          <Select value={fields.role} onChange={(event) => setFields({ ...fields, role: event.target.value as Role })}>
            <option value="viewer">viewer: reads</option>
            <option value="engineer">engineer: answers incidents, writes rules</option>
            <option value="administrator">administrator: also keeps the people</option>
          </Select>
        </Field>
        <Field label="First password" error={fault('password')} help="At least 12 characters">
          <Input
            type="password"
            autoComplete="new-password"
            value={fields.password}
            onChange={(event) => setFields({ ...fields, password: event.target.value })}
          />
        </Field>
        <div className="">
          <Button type="submit" look="accent" disabled={add.isPending}>
            Add
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

function AuditTrail() {
  const { zone } = useSession();
  const audit = useQuery({ queryKey: ['audit'], queryFn: () => read('/api/audit'), refetchInterval: 10_000 });
  return (
    <Sheet label="Changes" className="col-span-full overflow-x-auto">
      <h2 className="px-4 pt-3 pb-1">Who changed what</h2>
      <table className="w-full">
        <tbody>
          {audit.data?.map((entry) => (
            <tr key={entry.id} className="border-t border-line">
              <td className="px-4 py-1.5 whitespace-nowrap text-muted">{dayClock(entry.at, zone)}</td>
              <td className="px-4 py-1.5 whitespace-nowrap">
                {entry.person ?? 'Olivine'} <span className="text-muted">{entry.address}</span>
              </td>
              <td className="px-4 py-1.5">
                {entry.action} {entry.subject}
                {differences(entry) && <span className="text-muted"> · {differences(entry)}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {audit.data?.length === 0 && <p className="px-4 py-3 text-muted">Nothing has been changed yet.</p>}
    </Sheet>
  );
}

/** `limit: 400 → 500`. */
function differences(entry: AuditEntry): string {
  const before = (entry.before ?? {}) as Record<string, unknown>;
  const after = (entry.after ?? {}) as Record<string, unknown>;
  return [...new Set([...Object.keys(before), ...Object.keys(after)])]
    .filter(
      (key) => entry.before && entry.after && key !== 'version' && JSON.stringify(before[key]) !== JSON.stringify(after[key]),
    )
    .map((key) => `${key}: ${JSON.stringify(before[key])} → ${JSON.stringify(after[key])}`)
    .join(', ');
}
