import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { ShownKeptChannel } from '../api/types';
import { Answered } from '../ui/answered';
import { Button } from '../ui/controls';
import { DefaultMark } from '../ui/default-mark';
import { DialogBox } from '../ui/dialog-box';
import { DialogForm, FormFaults, SelectField, TextField, WholeField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { sayFailure } from '../ui/say-failure';
import { UsedBy } from './used-by';
import { FormEnds, SecretField } from './signed-form';

/** Ways to reach people through other programs: each with an address, a secret to sign with, and a test. */
export function ChannelsDialog() {
  const [open, setOpen] = useState(false);
  const [edited, setEdited] = useState<ShownKeptChannel | 'new' | null>(null);
  const [made, setMade] = useState<ShownKeptChannel | null>(null);
  const channels = useQuery({ ...delivery.setUp(), enabled: open });
  return (
    <DialogBox
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setEdited(null);
        setMade(null);
      }}
      title={edited === null ? 'Channels' : edited === 'new' ? 'A new channel' : `Channel ${edited.name}`}
      trigger={<Button>Channels</Button>}
    >
      {edited !== null ? (
        <ChannelForm
          channel={edited === 'new' ? undefined : edited}
          onDone={(saved) => {
            setEdited(null);
            setMade(saved?.secret ? saved : null);
          }}
        />
      ) : (
        <>
          <p className="text-muted">
            Beside e-mail, people are reached through other programs. What goes there and what comes back is signed.
          </p>
          {made && (
            <div role="status" className="my-3 rounded-lg bg-accent-soft p-3">
              The secret of <span className="font-semibold">{made.name}</span>, shown this once:
              <code className="mt-1 block font-mono text-[12.5px] break-all select-all">{made.secret}</code>
            </div>
          )}
          <p className="mt-3">
            <span className="font-semibold">e-mail</span>
            <DefaultMark /> <span className="text-muted">Setup has its server</span>
          </p>
          <Answered
            of={channels}
            what="the channels"
            isEmpty={(found) => found.length === 0}
            empty={<p className="py-3 text-muted">None yet, so everything goes by e-mail.</p>}
          >
            {(found) => (
              <ul className="my-3 divide-y divide-line border-y border-line">
                {found.map((channel) => (
                  <ChannelRow key={channel.id} channel={channel} onChange={() => setEdited(channel)} />
                ))}
              </ul>
            )}
          </Answered>
          <div className="flex justify-end">
            <Button look="accent" onClick={() => setEdited('new')}>
              Add a channel
            </Button>
          </div>
        </>
      )}
    </DialogBox>
  );
}

function ChannelRow({ channel, onChange }: { channel: ShownKeptChannel; onChange: () => void }) {
  const test = useMutation({
    mutationFn: () => send('post', '/api/channels/{id}/test', { path: { id: channel.id } }),
    onError: sayFailure,
  });
  return (
    <li className="py-2.5">
      <div className="flex items-center gap-3">
        <span className="min-w-0 flex-1">
          <span className="font-semibold">{channel.name}</span> <span className="text-muted">{KINDS[channel.kind].name}</span>
          <span className="block truncate text-[13px] text-muted">
            {channel.url} · {channel.standsIn ? 'told where another fails' : 'only where it is named'}
          </span>
        </span>
        <Button disabled={test.isPending} onClick={() => test.mutate()}>
          Test
        </Button>
        <Button onClick={onChange}>Change</Button>
      </div>
      {test.data && (
        <p role="status" className={test.data.ok ? 'mt-1 text-[13px]' : 'mt-1 text-[13px] text-critical'}>
          {test.data.ok ? test.data.message : `It was not taken: ${test.data.message}`}
        </p>
      )}
    </li>
  );
}

type Kind = ShownKeptChannel['kind'];

/** What each kind is, in words, and what is asked of it beside its address. */
const KINDS: Record<Kind, { name: string; does: string; url: string; room?: string }> = {
  SMS: {
    name: 'SMS',
    does: 'Short messages through a gateway, to the number that a person verified; answered by a word.',
    url: 'https://gateway.saltmarsh.example/messages',
    room: 'Shown as the sender',
  },
  voice: {
    name: 'voice',
    does: 'Calls through a gateway; it reads the words, and a key answers.',
    url: 'https://gateway.saltmarsh.example/calls',
    room: 'Shown as the caller',
  },
  chat: {
    name: 'chat',
    does: 'Said in a room, one thread an incident, with buttons that answer.',
    url: 'https://chat.saltmarsh.example/hooks/crew',
    room: 'Room',
  },
  ticket: {
    name: 'ticket',
    does: 'A desk keeps one ticket an incident: opened, commented, closed; its owner is read back.',
    url: 'https://desk.saltmarsh.example/tickets',
    room: 'Desk',
  },
  webhook: {
    name: 'webhook',
    does: 'Another program is told as events of CloudEvents 1.0.',
    url: 'https://board.saltmarsh.example/told',
  },
};

const fieldsOf = (channel: ShownKeptChannel | undefined) => ({
  kind: channel?.kind ?? 'SMS',
  name: channel?.name ?? '',
  url: channel?.url ?? '',
  secret: '',
  standsIn: channel?.standsIn ?? false,
  room: channel?.room ?? '',
  price: (channel?.price ?? 0) / 1000,
});
type Fields = ReturnType<typeof fieldsOf>;

function ChannelForm({ channel, onDone }: { channel?: ShownKeptChannel; onDone: (saved?: ShownKeptChannel) => void }) {
  const queries = useQueryClient();
  const done = (words: string, saved?: ShownKeptChannel) => {
    void queries.invalidateQueries({ queryKey: delivery.key });
    toast(words);
    onDone(saved);
  };
  const form = useSheetForm<ShownKeptChannel | undefined, Fields, ShownKeptChannel>({
    of: channel,
    fieldsOf,
    save: ({ secret, price, ...rest }, of) => {
      const body = { ...rest, price: Math.round(1000 * price), ...(secret === '' ? {} : { secret }) };
      return of
        ? send('put', '/api/channels/{id}', { path: { id: of.id }, body: { ...body, version: of.version } })
        : send('post', '/api/channels', { body });
    },
    onSaved: (saved) => done(`Channel ${saved.name} is set.`, saved),
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/channels/{id}', { path: { id: channel!.id } }),
    onSuccess: () => done(`Removed channel ${channel!.name}. What waited for it goes another way.`),
    onError: sayFailure,
  });
  const kind = KINDS[form.fields.kind];
  return (
    <DialogForm form={form}>
      {!channel && (
        <SelectField form={form} name="kind" label="Kind" help={kind.does}>
          {Object.entries(KINDS).map(([value, one]) => (
            <option key={value} value={value}>
              {one.name}
            </option>
          ))}
        </SelectField>
      )}
      <TextField form={form} name="name" label="Name" help="One word, as the trail will say it, such as pier-hook" />
      <TextField form={form} name="url" label="Address" help={`Such as ${kind.url}`} />
      {kind.room && <TextField form={form} name="room" label={kind.room} />}
      <SecretField form={form} name="secret" isNew={!channel} />
      {kind.room && form.fields.kind !== 'ticket' && (
        <p className="text-[13px] break-words text-muted">
          What people answer is brought, signed with the same secret, to{' '}
          <code className="font-mono">
            {location.origin}/in/{form.fields.name || 'its-name'}
          </code>
        </p>
      )}
      <WholeField
        form={form}
        name="price"
        label="Price of a message"
        step="0.001"
        min={0}
        help="What it costs, so that trying a plan says what a month would; 0 where it costs nothing"
      />
      <label className="flex items-start gap-2">
        <input type="checkbox" className="mt-1" {...form.register('standsIn')} />
        <span>
          Told where another channel does not take a message
          <span className="block text-[13px] text-muted">A mail server that is away keeps nobody from being told.</span>
        </span>
      </label>
      {channel && <UsedBy kind="channel" name={channel.name} />}
      <FormFaults form={form} secret="secret" words={{ url: 'address', standsIn: 'told where another fails', room: 'room' }} />
      <FormEnds
        onRemove={channel && (() => remove.mutate())}
        onBack={() => onDone()}
        save="Save"
        disabled={!form.fields.name || !form.fields.url || form.formState.isSubmitting}
      />
    </DialogForm>
  );
}
