import { useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { people, setup } from '../api/queries';
import type { TargetLimit as Limit } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Input, Sheet } from '../ui/controls';
import { whole } from '../ui/format';
import { FormFaults } from '../ui/form/fields';
import { LeaveGuard } from '../ui/form/leave-guard';
import { useSheetForm } from '../ui/form/sheet-form';
import { useMay } from '../ui/session';

type Values = Record<string, number>;
const valuesOf = (limits: Limit[]): Values => Object.fromEntries(limits.map((limit) => [limit.name, limit.value]));

/** What a target may bring before its scrape is refused as a whole. */
export function LimitsSheet() {
  const may = useMay();
  const limits = useQuery(setup.limits());
  return (
    <Sheet label="What a target may bring" className="p-4">
      <h2>What a target may bring</h2>
      <p className="mb-2 text-muted">
        Past any of these its scrape is refused as a whole, and the target says so with the label to look at. Late readings are
        refused one by one.
      </p>
      <Answered of={limits} what="the limits">
        {(data) =>
          may('keep settings') ? (
            <LimitsForm limits={data} />
          ) : (
            <Rows limits={data}>{(limit) => <span className="block text-right font-semibold">{whole(limit.value)}</span>}</Rows>
          )
        }
      </Answered>
    </Sheet>
  );
}

function LimitsForm({ limits }: { limits: Limit[] }) {
  const queries = useQueryClient();
  const form = useSheetForm<Values, Values, Limit[]>({
    of: valuesOf(limits),
    fieldsOf: (values) => values,
    save: (fields, was) => send('put', '/api/limits', { body: { ...fields, was } }),
    baseOf: valuesOf,
    onSaved: (now) => {
      queries.setQueryData(setup.limits().queryKey, now);
      void queries.invalidateQueries({ queryKey: people.key });
      toast('Targets may bring so much from their next scrape on.');
    },
  });
  const unusual = limits.filter((limit) => form.fields[limit.name] !== limit.usual);
  return (
    <form noValidate onSubmit={form.submit}>
      <Rows limits={limits} unusual={unusual}>
        {(limit) => (
          <Input
            type="number"
            aria-label={limit.words}
            aria-invalid={form.fault(limit.name) ? true : undefined}
            aria-describedby={form.fault(limit.name) ? `fault of ${limit.name}` : undefined}
            {...form.register(limit.name, { valueAsNumber: true })}
            className="text-right"
          />
        )}
      </Rows>
      {limits.map(
        ({ name }) =>
          form.fault(name) && (
            <p key={name} id={`fault of ${name}`} role="alert" className="mt-2 text-critical">
              {form.fault(name)}
            </p>
          ),
      )}
      <FormFaults form={form} />
      {(form.changed || unusual.length > 0) && (
        <div className="mt-3 flex justify-end gap-2">
          {unusual.length > 0 && (
            <Button onClick={() => limits.forEach((limit) => form.setValue(limit.name, limit.usual, { shouldDirty: true }))}>
              Take the usual ones
            </Button>
          )}
          {form.changed && <Button onClick={form.undo}>Leave it</Button>}
          <Button type="submit" look="accent" disabled={form.formState.isSubmitting || !form.changed}>
            Keep it so
          </Button>
        </div>
      )}
      <LeaveGuard when={form.changed} />
    </form>
  );
}

function Rows({
  limits,
  unusual = [],
  children,
}: {
  limits: Limit[];
  unusual?: Limit[];
  children: (limit: Limit) => React.ReactNode;
}) {
  return (
    <table className="w-full">
      <tbody>
        {limits.map((limit) => (
          <tr key={limit.name} className="border-t border-line">
            <td className="w-32 py-1.5">{children(limit)}</td>
            <td className="px-3 py-1.5">
              {limit.words}
              {unusual.includes(limit) && <span className="text-muted"> · usually {whole(limit.usual)}</span>}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
