import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { ActionFields, ShownAction } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Field, Sheet, TextArea } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { DialogForm, FormFaults, SelectField, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { Spelt } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { sayFailure } from '../ui/say-failure';
import { useMay } from '../ui/session';
import { DeliveryTabs } from './delivery-tabs';
import { FormEnds, SecretField } from './signed-form';

type Fields = Required<Omit<ActionFields, 'version' | 'secret'>> & { secret: string };

/** What may be done at the press of a button, about what, and who may. */
export function ActionsPage() {
  const may = useMay();
  const actions = useQuery(delivery.actions());
  const [open, setOpen] = useState<ShownAction | 'new'>();
  const [made, setMade] = useState<ShownAction>();
  const count = actions.data?.length ?? 0;
  return (
    <>
      <DeliveryTabs />
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <div className="mr-auto">
          <PageHead title="Actions">
            {count === 0
              ? 'Nothing is prepared yet: whoever is woken has to find the remedy alone.'
              : `${Spelt(count)} ${count === 1 ? 'action' : 'actions'} can be done at the press of a button, by whoever may.`}
          </PageHead>
        </div>
        {may('keep people') && (
          <Button look="accent" onClick={() => setOpen('new')}>
            Prepare an action
          </Button>
        )}
      </div>
      {made?.secret && (
        <p role="status" className="mt-3 rounded-lg bg-accent-soft px-3 py-2 break-words">
          The secret of {made.name}, shown this once: <code className="font-mono">{made.secret}</code>. It signs what is sent.
        </p>
      )}
      <Sheet label="Actions" className="mt-3">
        <Answered
          of={actions}
          what="the actions"
          className="px-4 py-3"
          isEmpty={(found) => found.length === 0}
          empty={
            <p className="px-4 py-6 text-muted">
              An action asks another program, or the agent of a machine, to do one thing that was thought of by day. It stands on
              each incident and target that its filter matches, asks once more before it does, and leaves its output on the trail.
            </p>
          }
        >
          {(found) => (
            <ul className="divide-y divide-line">
              {found.map((one) => (
                <li key={one.id} className="flex flex-wrap items-start gap-3 px-4 py-3">
                  <div className="min-w-0 flex-1 basis-80">
                    <p>
                      <span className="font-semibold">{one.name}</span>{' '}
                      <span className="text-muted">
                        for {one.role}s{one.command !== '' && `, ${one.command}`}
                      </span>
                    </p>
                    <p>{one.words}</p>
                    <code className="block font-mono text-[12.5px] break-words text-muted">
                      {one.matching} → {one.url}
                    </code>
                  </div>
                  {may('keep people') && <Button onClick={() => setOpen(one)}>Change</Button>}
                </li>
              ))}
            </ul>
          )}
        </Answered>
      </Sheet>
      <DialogBox
        open={open !== undefined}
        onOpenChange={(is) => !is && setOpen(undefined)}
        title={open === 'new' || open === undefined ? 'Prepare an action' : open.name}
      >
        {open !== undefined && (
          <ActionForm
            action={open === 'new' ? undefined : open}
            onDone={(saved) => {
              setOpen(undefined);
              setMade(saved);
            }}
          />
        )}
      </DialogBox>
    </>
  );
}

const fieldsOf = (of?: ShownAction): Fields => ({
  name: of?.name ?? '',
  words: of?.words ?? '',
  matching: of?.matching ?? '',
  url: of?.url ?? '',
  command: of?.command ?? '',
  role: of?.role ?? 'engineer',
  secret: '',
});

function ActionForm({ action, onDone }: { action?: ShownAction; onDone: (saved?: ShownAction) => void }) {
  const queries = useQueryClient();
  const done = (words: string, saved?: ShownAction) => {
    void queries.invalidateQueries({ queryKey: delivery.key });
    toast(words);
    onDone(saved);
  };
  const form = useSheetForm<ShownAction | undefined, Fields, ShownAction>({
    of: action,
    fieldsOf,
    save: ({ secret, ...rest }, of) => {
      const body = { ...rest, ...(secret === '' ? {} : { secret }) };
      return of
        ? send('put', '/api/actions/{id}', { path: { id: of.id }, body: { ...body, version: of.version } })
        : send('post', '/api/actions', { body });
    },
    onSaved: (saved) => done(`${saved.name} is prepared.`, saved),
  });
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/actions/{id}', { path: { id: action!.id } }),
    onSuccess: () => done(`Removed ${action!.name}. What it did stays on the trails.`),
    onError: sayFailure,
  });
  return (
    <DialogForm form={form}>
      <TextField form={form} name="name" label="Name" help="As the button says it, such as Start the consumers anew" />
      <Field label="What it does" error={form.fault('words')} help="Read by whoever presses, before it is done">
        <TextArea rows={2} {...form.register('words')} />
      </Field>
      <TextField
        form={form}
        name="matching"
        label="About what"
        help={'Alerts and targets, such as queue = "boarding" or kind = "broker"'}
        style={{ fontFamily: 'var(--font-mono)' }}
      />
      <TextField form={form} name="url" label="Address" help="Where it is asked for; of an agent http://its-machine:9105/run" />
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <TextField form={form} name="command" label="Command" help="Of an agent, as its file names it; else empty" />
        <SelectField form={form} name="role" label="Who may" help="And whoever may more">
          <option value="engineer">engineers</option>
          <option value="administrator">administrators</option>
        </SelectField>
      </div>
      <SecretField form={form} name="secret" isNew={!action} />
      <FormFaults form={form} secret="secret" words={{ words: 'what it does', matching: 'about what', url: 'address' }} />
      <FormEnds
        onRemove={action && (() => remove.mutate())}
        onBack={() => onDone()}
        save={action ? 'Save' : 'Prepare it'}
        disabled={form.formState.isSubmitting}
      />
    </DialogForm>
  );
}
