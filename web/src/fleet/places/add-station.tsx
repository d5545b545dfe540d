import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../../api/client';
import { fleet } from '../../api/queries';
import type { ShownStationToken } from '../../api/types';
import { Button } from '../../ui/controls';
import { DialogBox } from '../../ui/dialog-box';
import { DialogForm, FormFaults, TextField, WholeField } from '../../ui/form/fields';
import { useSheetForm } from '../../ui/form/sheet-form';
import { sayFailure } from '../../ui/say-failure';

const fieldsOf = () => ({ name: '', names: '*', checks: [] as number[], most: 1, hours: 24 });

/** One line that lets stations join, told once: how many, named how, and what is asked from each at once. */
export function AddStation({ address }: { address: string }) {
  const [open, setOpen] = useState(false);
  const [told, setTold] = useState<ShownStationToken | null>(null);
  const change = (next: boolean) => {
    setOpen(next);
    if (!next) setTold(null);
  };
  return (
    <DialogBox
      open={open}
      onOpenChange={change}
      title={told ? 'On the other machine' : 'Let a station join'}
      trigger={<Button look="accent">Add a station …</Button>}
      wide={600}
    >
      {told ? (
        <Told token={told} address={address} onDone={() => change(false)} />
      ) : (
        <TokenForm onTold={setTold} onCancel={() => change(false)} />
      )}
    </DialogBox>
  );
}

function TokenForm({ onTold, onCancel }: { onTold: (token: ShownStationToken) => void; onCancel: () => void }) {
  const queries = useQueryClient();
  const checks = useQuery(fleet.checks()).data?.checks ?? [];
  const form = useSheetForm<undefined, ReturnType<typeof fieldsOf>, ShownStationToken>({
    of: undefined,
    fieldsOf,
    save: (fields) =>
      send('post', '/api/station-tokens', { body: { ...fields, name: fields.name.trim(), names: fields.names.trim() } }),
    onSaved: (token) => {
      void queries.invalidateQueries({ queryKey: fleet.key });
      onTold(token);
    },
  });
  const { fields } = form;
  return (
    <DialogForm form={form}>
      <p className="text-muted">
        A station is a program on another machine that asks checks from there. It needs outgoing HTTPS to here and nothing else;
        it goes on while Olivine is away, and brings what it saw later.
      </p>
      <TextField form={form} name="name" label="What it is for" help="such as: the piers" autoComplete="off" />
      <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
        <TextField form={form} name="names" label="Names as" help="pier-* or *" autoComplete="off" />
        <WholeField form={form} name="most" label="So many" help="may join" min={1} />
        <WholeField form={form} name="hours" label="Within" help="hours" min={1} />
      </div>
      {checks.length > 0 && (
        <fieldset>
          <legend className="mb-1 font-medium">Asked from there at once</legend>
          <div className="grid max-h-48 grid-cols-2 gap-1 overflow-auto max-sm:grid-cols-1">
            {checks.map((check) => (
              <label key={check.id} className="inline-flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={fields.checks.includes(check.id)}
                  onChange={(event) =>
                    form.setValue(
                      'checks',
                      event.target.checked ? [...fields.checks, check.id] : fields.checks.filter((id) => id !== check.id),
                      { shouldDirty: true },
                    )
                  }
                />
                {check.name}
              </label>
            ))}
          </div>
        </fieldset>
      )}
      <FormFaults form={form} />
      <div className="flex justify-end gap-2 pt-2">
        <Button onClick={onCancel}>Cancel</Button>
        <Button type="submit" look="accent" disabled={form.formState.isSubmitting || fields.name.trim() === ''}>
          Make the line
        </Button>
      </div>
    </DialogForm>
  );
}

function Told({ token, address, onDone }: { token: ShownStationToken; address: string; onDone: () => void }) {
  const line = `bin/olivine station --to=${address} --token=${token.token ?? ''} --place=${
    token.names.includes('*') ? token.names.replace('*', 'NAME') : `'${token.names}'`
  }`;
  return (
    <div className="space-y-3">
      <p>
        Start this there; it is told this once. It lets {token.most === 1 ? 'one station' : `${token.most} stations`} join, and
        each keeps a key of its own from then on.
      </p>
      <pre
        aria-label="The line"
        tabIndex={0}
        className="overflow-auto rounded-lg border border-line bg-paper p-3 font-mono text-[12px] break-all whitespace-pre-wrap"
      >
        {line}
      </pre>
      <div className="flex justify-end gap-2">
        <Button onClick={() => void navigator.clipboard.writeText(line).then(() => toast('Copied.'), sayFailure)}>Copy</Button>
        <Button look="accent" onClick={onDone}>
          Done
        </Button>
      </div>
    </div>
  );
}
