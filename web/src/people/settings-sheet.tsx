import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, read, send } from '../api/client';
import type { MailTls, Settings } from '../api/types';
import { Button, Field, Input, Select, Sheet } from '../ui/controls';
import { Meanwhile } from '../ui/meanwhile';
import { ZoneSelect } from '../ui/zone';

/** The settings as the form has them; a host left empty means that no mail is sent. */
const fieldsOf = (settings: Settings) => ({
  host: settings.mailServer?.host ?? '',
  port: settings.mailServer?.port ?? 25,
  user: settings.mailServer?.user ?? '',
  tls: settings.mailServer?.tls ?? ('if offered' as MailTls),
  mailFrom: settings.mailFrom,
  publicUrl: settings.publicUrl,
  zone: settings.zone,
  idleHours: settings.idleHours,
  sessionDays: settings.sessionDays,
});
type Fields = ReturnType<typeof fieldsOf>;

/** Where mail goes out, what its links begin with, the zone, and how long people stay signed in. */
export function SettingsSheet({ mayChange }: { mayChange: boolean }) {
  const settings = useQuery({
    queryKey: ['settings'],
    queryFn: () => read('/api/settings'),
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  });
  return (
    <Sheet label="Mail, address and zone" className="p-4">
      <h2>Mail, address and zone</h2>
      {settings.isError && (
        <p role="alert" className="text-critical">
          {settings.error.message}
        </p>
      )}
      {settings.data &&
        (mayChange ? <SettingsForm key={settings.data.version} settings={settings.data} /> : <Told settings={settings.data} />)}
    </Sheet>
  );
}

function Told({ settings }: { settings: Settings }) {
  const server = settings.mailServer;
  const facts: [string, string][] = [
    [
      'mail server',
      server
        ? `${server.host}:${server.port}, TLS ${server.tls}${server.user && `, as ${server.user}`}`
        : 'none: nobody can be told by mail',
    ],
    ['sender', settings.mailFrom],
    ['public address', settings.publicUrl],
    ['zone', settings.zone],
    ['sessions end', `after ${settings.idleHours} idle hours, at most ${settings.sessionDays} days`],
  ];
  return (
    <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5">
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-muted">{name}</dt>
          <dd className="min-w-0 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function SettingsForm({ settings }: { settings: Settings }) {
  const queries = useQueryClient();
  const [base, setBase] = useState(settings);
  const [fields, setFields] = useState<Fields>(() => fieldsOf(settings));
  const [password, setPassword] = useState<string | null>(null);
  const save = useMutation({
    mutationFn: () => {
      const { host, port, user, tls, ...rest } = fields;
      const server = fieldsOf(base);
      const touched =
        password !== null || host !== server.host || port !== server.port || user !== server.user || tls !== server.tls;
      const mailServer = { host, port, user, tls, ...(password === null ? {} : { password }) };
      return send('put', '/api/settings', { body: { ...rest, version: base.version, ...(touched ? { mailServer } : {}) } });
    },
    onSuccess: (now) => {
      queries.setQueryData(['settings'], now);
      void queries.invalidateQueries({ queryKey: ['session'] });
      void queries.invalidateQueries({ queryKey: ['audit'] });
      toast('Kept. It is in force now, without a restart.');
    },
  });
  const test = useMutation({ mutationFn: () => send('post', '/api/settings/test-mail') });
  const problem = save.error instanceof ApiError ? save.error : undefined;
  const there = problem?.status === 409 ? (problem.now as Settings | undefined) : undefined;
  const fault = (field: string) => (problem?.field === field ? problem.message : undefined);
  const set = (part: Partial<Fields>) => {
    setFields({ ...fields, ...part });
    save.reset();
    test.reset();
  };
  const dirty = password !== null || JSON.stringify(fields) !== JSON.stringify(fieldsOf(base));
  return (
    <form
      className="mt-2 space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      {fields.host === '' && (
        <p className="rounded-lg border border-minor/50 px-3 py-2">Without a mail server nobody can be told by mail.</p>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)_96px_130px] gap-3 max-sm:grid-cols-1">
        <Field label="Mail server" error={fault('mailServer')} help="Its host; empty for none">
          <Input
            name="mail-host"
            value={fields.host}
            placeholder="mail.saltmarsh.example"
            autoComplete="off"
            onChange={(event) => set({ host: event.target.value })}
          />
        </Field>
        <Field label="Port" error={fault('port')}>
          <Input
            name="mail-port"
            type="number"
            min={1}
            max={65535}
            value={fields.port || ''}
            onChange={(event) => set({ port: Number(event.target.value) })}
          />
        </Field>
        <Field label="TLS">
          <Select name="mail-tls" value={fields.tls} onChange={(event) => set({ tls: event.target.value as MailTls })}>
            <option>always</option>
            <option>if offered</option>
            <option>never</option>
          </Select>
        </Field>
      </div>
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <Field label="Signs in there as" help="Empty: without signing in">
          <Input
            name="mail-user"
            value={fields.user}
            autoComplete="off"
            onChange={(event) => set({ user: event.target.value })}
          />
        </Field>
        <Field label="With the password" help={fields.user === '' ? undefined : 'Empty: as it is'}>
          <Input
            name="mail-password"
            type="password"
            autoComplete="new-password"
            value={password ?? ''}
            disabled={fields.user === ''}
            onChange={(event) => setPassword(event.target.value === '' ? null : event.target.value)}
          />
        </Field>
        <Field label="Sender of its mail" error={fault('mailFrom')}>
          <Input name="mail-from" value={fields.mailFrom} onChange={(event) => set({ mailFrom: event.target.value })} />
        </Field>
        <Field label="Public address" error={fault('publicUrl')} help="What links in its messages begin with">
          <Input name="public-url" value={fields.publicUrl} onChange={(event) => set({ publicUrl: event.target.value })} />
        </Field>
        <div>
          <span className="mb-1 block font-medium">Zone of this site</span>
          <ZoneSelect
            value={fields.zone}
            onChange={(zone) => set({ zone })}
            className="w-full rounded-lg border border-line bg-sheet px-3 py-1.5 text-ink"
          />
          {fault('zone') && (
            <span role="alert" className="mt-1 block text-critical">
              {fault('zone')}
            </span>
          )}
        </div>
        <div className="grid grid-cols-2 gap-3">
          <Field label="Sign out after" help="idle hours" error={fault('idleHours')}>
            <Input
              name="idle-hours"
              type="number"
              min={1}
              max={168}
              value={fields.idleHours || ''}
              onChange={(event) => set({ idleHours: Number(event.target.value) })}
            />
          </Field>
          <Field label="and at most" help="days" error={fault('sessionDays')}>
            <Input
              name="session-days"
              type="number"
              min={1}
              max={90}
              value={fields.sessionDays || ''}
              onChange={(event) => set({ sessionDays: Number(event.target.value) })}
            />
          </Field>
        </div>
      </div>
      {there && (
        <Meanwhile
          was={fieldsOf(base)}
          theirs={fieldsOf(there)}
          mine={fields}
          onMerge={(taken) => {
            setFields(taken);
            setBase(there);
            save.reset();
          }}
        />
      )}
      {problem && !problem.field && !there && (
        <p role="alert" className="text-critical">
          {problem.message}
        </p>
      )}
      {test.data && (
        <p
          role="status"
          className={
            test.data.ok
              ? 'rounded-lg bg-accent-soft px-3 py-2 break-words'
              : 'rounded-lg border border-critical/40 px-3 py-2 break-words text-critical'
          }
        >
          {test.data.ok ? `To ${test.data.to}. ${test.data.message}` : test.data.message}
        </p>
      )}
      {test.error && (
        <p role="alert" className="text-critical">
          {test.error.message}
        </p>
      )}
      <div className="flex justify-end gap-2">
        <Button
          onClick={() => test.mutate()}
          disabled={dirty || test.isPending || fields.host === ''}
          title={dirty ? 'Keep what you changed first' : undefined}
        >
          {test.isPending ? 'Sending …' : 'Send a test mail'}
        </Button>
        {dirty && (
          <Button
            onClick={() => {
              setFields(fieldsOf(base));
              setPassword(null);
              save.reset();
            }}
          >
            Leave it
          </Button>
        )}
        {dirty && (
          <Button type="submit" look="accent" disabled={save.isPending}>
            Keep it so
          </Button>
        )}
      </div>
    </form>
  );
}
