import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { ShownWebhook } from '../api/types';
import { Answered } from '../ui/answered';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { DialogForm, FormFaults, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { sayFailure } from '../ui/say-failure';
import { UsedBy } from './used-by';

/** Other programs that are told of incidents: each with an address, a secret to sign with, and a test. */
export function WebhooksDialog() {
  const [open, setOpen] = useState(false);
  const [edited, setEdited] = useState<ShownWebhook | 'new' | null>(null);
  const [made, setMade] = useState<ShownWebhook | null>(null);
  const webhooks = useQuery({ ...delivery.webhooks(), enabled: open });
  return (
    <DialogBox
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setEdited(null);
        setMade(null);
      }}
      title={edited === null ? 'Webhooks' : edited === 'new' ? 'A new webhook' : `Webhook ${edited.name}`}
      trigger={<Button>Webhooks</Button>}
    >
      {edited !== null ? (
        <WebhookForm
          webhook={edited === 'new' ? undefined : edited}
          onDone={(saved) => {
            setEdited(null);
            setMade(saved?.secret ? saved : null);
          }}
        />
      ) : (
        <>
          <p className="text-muted">Another program is told of incidents as events of CloudEvents 1.0, each one signed.</p>
          {made && (
            <div role="status" className="my-3 rounded-lg bg-accent-soft p-3">
              The secret of <span className="font-semibold">{made.name}</span>, shown this once:
              <code className="mt-1 block font-mono text-[12.5px] break-all select-all">{made.secret}</code>
            </div>
          )}
          <Answered
            of={webhooks}
            what="the webhooks"
            isEmpty={(found) => found.length === 0}
            empty={<p className="py-3 text-muted">No webhooks yet.</p>}
          >
            {(found) => (
              <ul className="my-3 divide-y divide-line border-y border-line">
                {found.map((webhook) => (
                  <WebhookRow key={webhook.id} webhook={webhook} onChange={() => setEdited(webhook)} />
                ))}
              </ul>
            )}
          </Answered>
          <div className="flex justify-end">
            <Button look="accent" onClick={() => setEdited('new')}>
              Add a webhook
            </Button>
          </div>
        </>
      )}
    </DialogBox>
  );
}

function WebhookRow({ webhook, onChange }: { webhook: ShownWebhook; onChange: () => void }) {
  const test = useMutation({
    mutationFn: () => send('post', '/api/webhooks/{id}/test', { path: { id: webhook.id } }),
    onError: sayFailure,
  });
  return (
    <li className="py-2.5">
      <div className="flex items-center gap-3">
        <span className="min-w-0 flex-1">
          <span className="font-semibold">{webhook.name}</span>
          <span className="block truncate text-[13px] text-muted">
            {webhook.url} · {webhook.standsIn ? 'told where another channel fails' : 'told nothing by itself'}
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

const fieldsOf = (webhook: ShownWebhook | undefined) => ({
  name: webhook?.name ?? '',
  url: webhook?.url ?? '',
  secret: '',
  standsIn: webhook?.standsIn ?? true,
});
type Fields = ReturnType<typeof fieldsOf>;

function WebhookForm({ webhook, onDone }: { webhook?: ShownWebhook; onDone: (saved?: ShownWebhook) => void }) {
  const queries = useQueryClient();
  const done = (words: string, saved?: ShownWebhook) => {
    void queries.invalidateQueries({ queryKey: delivery.key });
    toast(words);
    onDone(saved);
  };
  const form = useSheetForm<ShownWebhook | undefined, Fields, ShownWebhook>({
    of: webhook,
    fieldsOf,
    save: ({ secret, ...rest }, of) => {
      const body = { ...rest, ...(secret === '' ? {} : { secret }) };
      return of
        ? send('put', '/api/webhooks/{id}', { path: { id: of.id }, body: { ...body, version: of.version } })
        : send('post', '/api/webhooks', { body });
    },
    onSaved: (saved) => done(`Webhook ${saved.name} is set.`, saved),
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/webhooks/{id}', { path: { id: webhook!.id } }),
    onSuccess: () => done(`Removed webhook ${webhook!.name}. What waited for it goes another way.`),
    onError: sayFailure,
  });
  return (
    <DialogForm form={form}>
      <TextField form={form} name="name" label="Name" help="One word, as the trail will say it, such as pier-hook" />
      <TextField form={form} name="url" label="Address" help="Such as https://board.saltmarsh.example/told" />
      <TextField
        form={form}
        name="secret"
        label="Secret"
        type="password"
        autoComplete="off"
        help={webhook ? 'Left empty it stays as it is' : 'Left empty one is made up, and shown once'}
      />
      <label className="flex items-start gap-2">
        <input type="checkbox" className="mt-1" {...form.register('standsIn')} />
        <span>
          Told where another channel does not take a message
          <span className="block text-[13px] text-muted">A mail server that is away keeps nobody from being told.</span>
        </span>
      </label>
      {webhook && <UsedBy kind="channel" name={webhook.name} />}
      <FormFaults form={form} secret="secret" words={{ url: 'address', standsIn: 'told where another fails' }} />
      <div className="flex justify-end gap-2 pt-2">
        {webhook && (
          <Button look="quiet" className="mr-auto" onClick={() => remove.mutate()}>
            Remove
          </Button>
        )}
        <Button onClick={() => onDone()}>Back</Button>
        <Button type="submit" look="accent" disabled={!form.fields.name || !form.fields.url || form.formState.isSubmitting}>
          Save
        </Button>
      </div>
    </DialogForm>
  );
}
