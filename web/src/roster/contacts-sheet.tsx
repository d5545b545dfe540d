import { useMutation, useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { rosters as asked } from '../api/queries';
import type { OwnContacts, ShownContact } from '../api/types';
import { Button, Field, Input, Select, Sheet, smallLook } from '../ui/controls';
import { dayClock, span } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
import { useZone } from '../ui/session';
import { useNow } from '../ui/use-now';

/** `verified 9 d ago`, `never verified`, `not verified: it lay among junk`. */
export function contactWords(contact: ShownContact, now: number): string {
  if (contact.verifiedAt !== null) return `verified ${span(Math.max(60_000, now - contact.verifiedAt))} ago`;
  return contact.wasJunk ? 'not verified: it lay among junk' : 'never verified';
}

/** How one is reached: each way is tested by a code that is sent there. */
export function ContactsSheet({ contacts, junk }: { contacts: ShownContact[]; junk: string }) {
  return (
    <Sheet label="How you are reached" className="p-4">
      <h2>How you are reached</h2>
      <ul className="mt-1 divide-y divide-line">
        {contacts.map((one) => (
          <Contact key={one.way} contact={one} junk={junk} />
        ))}
      </ul>
      <AddContact />
    </Sheet>
  );
}

function useKept() {
  const queries = useQueryClient();
  return (kept: OwnContacts) => {
    void queries.invalidateQueries({ queryKey: asked.key });
    return kept;
  };
}

function Contact({ contact, junk }: { contact: ShownContact; junk: string }) {
  const now = useNow();
  const zone = useZone();
  const kept = useKept();
  const [code, setCode] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const path = { id: contact.id };
  const sendCode = useMutation({
    mutationFn: () => send('post', '/api/session/contacts/{id}/code', { path }),
    onSuccess: (all) => {
      kept(all);
      toast(`A code is on its way to ${contact.address}.`);
    },
    onError: sayFailure,
  });
  const verify = useMutation({
    mutationFn: (arrived: 'inbox' | 'junk') =>
      send('post', '/api/session/contacts/{id}/verify', { path, body: { code, arrived } }),
    onSuccess: (all, arrived) => {
      kept(all);
      setCode('');
      setFault(arrived === 'junk' ? junk : null);
      if (arrived === 'inbox') toast(`${contact.way} works.`);
    },
    onError: (error) => (error instanceof ApiError && error.field === 'code' ? setFault(error.message) : sayFailure(error)),
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/session/contacts/{id}', { path }),
    onSuccess: () => kept({ contacts: [], junk }),
    onError: sayFailure,
  });
  return (
    <li className="py-2">
      <div className="flex flex-wrap items-center gap-2">
        <span className="mr-auto">
          <span className="font-semibold">{contact.way}</span> {contact.address}
          <span className={clsx('block text-[13px]', contact.verifiedAt === null ? 'font-semibold text-minor' : 'text-muted')}>
            {contactWords(contact, now)}
            {contact.failedAt !== null && (
              <span className="font-normal text-critical">
                ; what was sent {dayClock(contact.failedAt, zone)} failed: {contact.failedWith}
              </span>
            )}
          </span>
        </span>
        {contact.label !== '' && (
          <Button look="quiet" disabled={remove.isPending} aria-label={`Take ${contact.way} out`} onClick={() => remove.mutate()}>
            ✕
          </Button>
        )}
        <Button disabled={sendCode.isPending} onClick={() => sendCode.mutate()}>
          Test it now
        </Button>
      </div>
      {contact.codeIsOut && (
        <form
          className="mt-2 flex flex-wrap items-center gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            verify.mutate('inbox');
          }}
        >
          <label className="flex items-center gap-2">
            The code
            <input
              className={clsx(smallLook, 'w-24')}
              inputMode="numeric"
              autoComplete="one-time-code"
              aria-label={`The code that arrived by ${contact.way}`}
              value={code}
              onChange={(event) => setCode(event.target.value)}
            />
          </label>
          <Button type="submit" look="accent" disabled={code.length < 6 || verify.isPending}>
            {contact.kind === 'e-mail' ? 'It was in the inbox' : 'It arrived'}
          </Button>
          {contact.kind === 'e-mail' && (
            <Button disabled={code.length < 6 || verify.isPending} onClick={() => verify.mutate('junk')}>
              It lay among junk
            </Button>
          )}
        </form>
      )}
      {(fault !== null || contact.wasJunk) && (
        <p role="alert" className="mt-1 text-[13px] text-critical">
          {fault ?? junk}
        </p>
      )}
    </li>
  );
}

const ADDRESSES = {
  phone: { label: 'Number', help: 'With its country, such as +44 7700 900123; you are written to and called there', mode: 'tel' },
  chat: { label: 'Name in the chat', help: 'Such as @ines', mode: 'text' },
  'e-mail': { label: 'Mail address', help: 'One that wakes you', mode: 'email' },
} as const;

function AddContact() {
  const kept = useKept();
  const [kind, setKind] = useState<ShownContact['kind']>('phone');
  const [label, setLabel] = useState('');
  const [address, setAddress] = useState('');
  const [fault, setFault] = useState<{ field?: string; message: string } | null>(null);
  const [open, setOpen] = useState(false);
  const add = useMutation({
    mutationFn: () => send('post', '/api/session/contacts', { body: { kind, label, address } }),
    onSuccess: (all) => {
      kept(all);
      toast(`A code is on its way to ${address}. Tell it here.`);
      setLabel('');
      setAddress('');
      setOpen(false);
      setFault(null);
    },
    onError: (error) =>
      error instanceof ApiError && error.status < 500
        ? setFault({ field: error.field, message: error.message })
        : sayFailure(error),
  });
  if (!open)
    return (
      <Button className="mt-2" onClick={() => setOpen(true)}>
        Add a way
      </Button>
    );
  return (
    <form
      className="mt-2 flex flex-wrap items-start gap-2 border-t border-line pt-2"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate();
      }}
    >
      <Field label="Kind" className="w-32">
        <Select value={kind} onChange={(event) => setKind(event.target.value as ShownContact['kind'])}>
          <option value="phone">telephone</option>
          <option value="chat">chat</option>
          <option value="e-mail">e-mail</option>
        </Select>
      </Field>
      <Field label="Name" className="w-28" error={fault?.field === 'label' ? fault.message : undefined}>
        <Input value={label} placeholder="mobile" onChange={(event) => setLabel(event.target.value)} />
      </Field>
      <Field
        label={ADDRESSES[kind].label}
        className="min-w-52 flex-1"
        help={ADDRESSES[kind].help}
        error={fault && fault.field !== 'label' ? fault.message : undefined}
      >
        <Input value={address} inputMode={ADDRESSES[kind].mode} onChange={(event) => setAddress(event.target.value)} />
      </Field>
      <span className="flex gap-2 pt-6">
        <Button onClick={() => setOpen(false)}>Back</Button>
        <Button type="submit" look="accent" disabled={label === '' || address === '' || add.isPending}>
          Send a code there
        </Button>
      </span>
    </form>
  );
}
