import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Controller } from 'react-hook-form';
import { toast } from 'sonner';
import { send } from '../api/client';
import { people } from '../api/queries';
import type { ShownToken, TokenFields } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { Checks } from '../ui/form/checks';
import { DialogBox } from '../ui/dialog-box';
import { day, dayClock, listed } from '../ui/format';
import { DialogForm, FormFaults, TextField, WholeField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { sayFailure } from '../ui/say-failure';
import { useSession, useZone } from '../ui/session';

const SCOPES = ['incidents', 'rules', 'delivery', 'fleet', 'readings'];

/** What other programs show instead of a password: what each may change, and when it ends. */
export function TokensSheet() {
  const tokens = useQuery(people.tokens());
  const [made, setMade] = useState<ShownToken | null>(null);
  return (
    <Sheet label="Tokens" className="p-4">
      <div className="flex items-baseline">
        <h2>Tokens for other programs</h2>
        <span className="ml-auto">
          <MakeToken onMade={setMade} />
        </span>
      </div>
      {made?.token && (
        <div role="status" className="my-2 rounded-lg bg-accent-soft p-3">
          The token <span className="font-semibold">{made.name}</span>, shown this once:
          <code className="mt-1 block font-mono text-[12.5px] break-all select-all">{made.token}</code>
        </div>
      )}
      <Answered
        of={tokens}
        what="the tokens"
        isEmpty={(found) => found.length === 0}
        empty={<p className="text-muted">None. A token acts as you, in the areas that it is for, until it ends.</p>}
      >
        {(found) => (
          <ul className="mt-1 divide-y divide-line border-y border-line">
            {found.map((token) => (
              <TokenRow key={token.id} token={token} />
            ))}
          </ul>
        )}
      </Answered>
    </Sheet>
  );
}

function TokenRow({ token }: { token: ShownToken }) {
  const zone = useZone();
  const { person } = useSession();
  const queries = useQueryClient();
  const end = useMutation({
    mutationFn: () => send('delete', '/api/tokens/{id}', { path: { id: token.id } }),
    onSuccess: () => {
      toast(`The token ${token.name} is ended.`);
      void queries.invalidateQueries({ queryKey: people.key });
    },
    onError: sayFailure,
  });
  return (
    <li className="flex items-baseline gap-3 py-2">
      <span className="min-w-0 flex-1">
        <span className="font-semibold">{token.name}</span>
        <span className="block text-[13px] text-muted">
          {token.scopes.length === 0 ? 'only reads' : `reads, and changes ${listed(token.scopes)}`}
          {token.person !== person.name && ` as ${token.person}`} · ends {day(token.endsAt, zone)} ·{' '}
          {token.usedAt === null ? 'never used' : `used ${dayClock(token.usedAt, zone)}`}
        </span>
      </span>
      <Button disabled={end.isPending} onClick={() => end.mutate()}>
        End
      </Button>
    </li>
  );
}

function MakeToken({ onMade }: { onMade: (token: ShownToken) => void }) {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox open={open} onOpenChange={setOpen} title="A new token" trigger={<Button>Make a token</Button>} wide={480}>
      <TokenForm
        onMade={(token) => {
          onMade(token);
          setOpen(false);
        }}
      />
    </DialogBox>
  );
}

function TokenForm({ onMade }: { onMade: (token: ShownToken) => void }) {
  const queries = useQueryClient();
  const form = useSheetForm<null, Required<TokenFields>, ShownToken>({
    of: null,
    fieldsOf: () => ({ name: '', scopes: [], days: 90 }),
    save: (body) => send('post', '/api/tokens', { body }),
    onSaved: (token) => {
      void queries.invalidateQueries({ queryKey: people.key });
      onMade(token);
    },
  });
  return (
    <DialogForm form={form}>
      <TextField form={form} name="name" label="What for" help="Such as the repository's pipeline" />
      <Controller
        control={form.control}
        name="scopes"
        render={({ field }) => (
          <fieldset>
            <legend className="mb-1 font-medium">It reads what you may, and changes</legend>
            <div className="flex flex-wrap gap-x-4 gap-y-1">
              <Checks of={SCOPES.map((scope) => [scope, scope])} chosen={field.value} onChange={field.onChange} />
              {field.value.length === 0 && <span className="text-muted">nothing</span>}
            </div>
          </fieldset>
        )}
      />
      <WholeField form={form} name="days" label="Ends after days" min={1} max={366} />
      <FormFaults form={form} />
      <div className="flex justify-end gap-2 pt-1">
        <Button type="submit" look="accent" disabled={form.fields.name === '' || form.formState.isSubmitting}>
          Make it
        </Button>
      </div>
    </DialogForm>
  );
}
