import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Controller } from 'react-hook-form';
import { toast } from 'sonner';
import { send } from '../api/client';
import { people, session, setup } from '../api/queries';
import type { Settings } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Field, Sheet } from '../ui/controls';
import { many } from '../ui/format';
import { FormFaults, SelectField, TextField, WholeField } from '../ui/form/fields';
import { LeaveGuard } from '../ui/form/leave-guard';
import { useSheetForm } from '../ui/form/sheet-form';
import { useMay } from '../ui/session';
import { ZoneSelect } from '../ui/zone';

/** The settings as the form has them; a host left empty means that no mail is sent, a password left empty that it stays. */
const fieldsOf = (settings: Settings) => ({
  mailServer: settings.mailServer?.host ?? '',
  port: settings.mailServer?.port ?? 25,
  user: settings.mailServer?.user ?? '',
  password: '',
  tls: settings.mailServer?.tls ?? 'if offered',
  mailFrom: settings.mailFrom,
  publicUrl: settings.publicUrl,
  zone: settings.zone,
  mostAnHour: settings.mostAnHour,
  mostAMinute: settings.mostAMinute,
  idleHours: settings.idleHours,
  sessionDays: settings.sessionDays,
  holidays: settings.holidays,
});
type Fields = ReturnType<typeof fieldsOf>;

/** What is sent: the mail server only where it was touched, since its password is never read back. */
function bodyOf({ mailServer, port, user, password, tls, ...rest }: Fields, of: Settings) {
  const was = fieldsOf(of);
  const touched = password !== '' || mailServer !== was.mailServer || port !== was.port || user !== was.user || tls !== was.tls;
  const server = { host: mailServer, port, user, tls, ...(password === '' ? {} : { password }) };
  return { ...rest, version: of.version, ...(touched ? { mailServer: server } : {}) };
}

/** Where mail goes out, what its links begin with, the zone, and how long people stay signed in. */
export function SettingsSheet() {
  const may = useMay();
  const settings = useQuery({ ...setup.settings(), refetchOnWindowFocus: false });
  return (
    <Sheet label="Mail, address and zone" className="p-4">
      <h2>Mail, address and zone</h2>
      <Answered of={settings} what="the settings">
        {(data) => (may('keep settings') ? <SettingsForm settings={data} /> : <Facts settings={data} />)}
      </Answered>
    </Sheet>
  );
}

function Facts({ settings }: { settings: Settings }) {
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
    ['holidays', settings.holidays || 'none'],
    [
      'messages an hour',
      settings.mostAnHour === 0
        ? 'as many as there are'
        : `${settings.mostAnHour} to one person by one channel, then what can wait is summed up`,
    ],
    [
      'a storm',
      settings.mostAMinute === 0
        ? 'is told one by one'
        : `more than ${settings.mostAMinute} a minute to one person by one channel are summed up, however grave`,
    ],
    ['sessions end', `after ${many(settings.idleHours, 'idle hour')}, at most ${many(settings.sessionDays, 'day')}`],
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
  const test = useMutation({ mutationFn: () => send('post', '/api/settings/test-mail') });
  const form = useSheetForm({
    of: settings,
    fieldsOf,
    save: (fields, of) => send('put', '/api/settings', { body: bodyOf(fields, of) }),
    baseOf: (now) => now,
    onSaved: (now) => {
      queries.setQueryData(setup.settings().queryKey, now);
      form.reset(fieldsOf(now));
      test.reset();
      void queries.invalidateQueries({ queryKey: session.key });
      void queries.invalidateQueries({ queryKey: people.key });
      toast('Kept. It is in force now, without a restart.');
    },
  });
  const { fields, changed } = form;
  return (
    <form className="mt-2 space-y-3" noValidate onSubmit={form.submit}>
      {fields.mailServer === '' && (
        <p className="rounded-lg border border-minor/50 px-3 py-2">Without a mail server nobody can be told by mail.</p>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)_96px_130px] gap-3 max-sm:grid-cols-1">
        <TextField
          form={form}
          name="mailServer"
          label="Mail server"
          help="Its host; empty for none"
          placeholder="mail.saltmarsh.example"
          autoComplete="off"
        />
        <WholeField form={form} name="port" label="Port" />
        <SelectField form={form} name="tls" label="TLS">
          <option>always</option>
          <option>if offered</option>
          <option>never</option>
        </SelectField>
      </div>
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <TextField form={form} name="user" label="Signs in there as" help="Empty: without signing in" autoComplete="off" />
        <TextField
          form={form}
          name="password"
          label="With the password"
          help={fields.user === '' ? undefined : 'Empty: as it is'}
          type="password"
          autoComplete="new-password"
          readOnly={fields.user === ''}
        />
        <TextField form={form} name="mailFrom" label="Sender of its mail" />
        <TextField form={form} name="publicUrl" label="Public address" help="What links in its messages begin with" />
        <Field label="Zone of this site" error={form.fault('zone')}>
          <Controller
            control={form.control}
            name="zone"
            render={({ field }) => (
              <ZoneSelect
                value={field.value}
                onChange={field.onChange}
                className="w-full rounded-lg border border-line bg-sheet px-3 py-1.5 text-ink"
              />
            )}
          />
        </Field>
        <TextField
          form={form}
          name="holidays"
          label="Holidays"
          help="Days such as 2026-12-25: what is read then says nothing of what is usual"
        />
        <WholeField
          form={form}
          name="mostAnHour"
          label="Messages an hour"
          help="To one person by one channel, then what can wait is summed up; 0 for no end"
        />
        <WholeField
          form={form}
          name="mostAMinute"
          label="A storm begins after"
          help="messages a minute to one person by one channel; all that comes more is one message, however grave; 0 for never"
        />
        <div className="grid grid-cols-2 gap-3">
          <WholeField form={form} name="idleHours" label="Sign out after" help="idle hours" />
          <WholeField form={form} name="sessionDays" label="and at most" help="days" />
        </div>
      </div>
      <FormFaults form={form} secret="password" />
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
          disabled={changed || test.isPending || fields.mailServer === ''}
          title={changed ? 'Keep what you changed first' : undefined}
        >
          {test.isPending ? 'Sending …' : 'Send a test mail'}
        </Button>
        {changed && <Button onClick={form.undo}>Leave it</Button>}
        {changed && (
          <Button type="submit" look="accent" disabled={form.formState.isSubmitting}>
            Keep it so
          </Button>
        )}
      </div>
      <LeaveGuard when={changed} />
    </form>
  );
}
