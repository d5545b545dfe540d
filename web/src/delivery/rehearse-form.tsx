import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery, rules } from '../api/queries';
import type { PlayedAlert, Severity } from '../api/types';
import { Button, Field, Select, Sheet } from '../ui/controls';
import { listed } from '../ui/format';
import { labelKey } from '../ui/label-key';
import { useSession } from '../ui/session';
import { SEVERITIES } from '../ui/severity';

/** Chooses what is played; whom it would tell now is shown, and asked. */
export function RehearseForm({ rule: first, onDone }: { rule?: number; onDone: () => void }) {
  const self = useSession().person.id;
  const queries = useQueryClient();
  const all = useQuery(rules.all());
  const [rule, setRule] = useState(first);
  const [key, setKey] = useState('');
  const [severity, setSeverity] = useState<Severity>();
  const [left, setLeft] = useState<number[]>([]);
  const choices = useQuery({ ...delivery.played(rule ?? 0), enabled: rule !== undefined });
  const alerts = choices.data?.alerts ?? [];
  const chosen = alerts.find((one) => labelKey(one.labels) === key) ?? alerts[0];
  const people = chosen ? reached(chosen) : [];
  const asked = people.filter((one) => !left.includes(one.person));
  const ask = useMutation({
    mutationFn: (of: { rule: number; alert: PlayedAlert }) =>
      send('post', '/api/rehearsals', {
        body: {
          rule: of.rule,
          labels: of.alert.labels,
          severity: severity ?? of.alert.severity,
          people: asked.map((one) => one.person),
        },
      }),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: delivery.rehearsals().queryKey });
      const others = made.people.filter((one) => !one.agreed).map((one) => one.name);
      toast(others.length === 0 ? 'You agreed by asking; begin when you like.' : `${listed(others)} is asked by mail.`);
      onDone();
    },
  });
  return (
    <Sheet label="What is rehearsed" className="mt-3 p-4">
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (rule !== undefined && chosen) ask.mutate({ rule, alert: chosen });
        }}
      >
        <div className="grid grid-cols-[1fr_1.4fr_9rem] gap-3 max-md:grid-cols-1">
          <Field label="Rule">
            <Select value={rule ?? ''} onChange={(event) => setRule(Number(event.target.value) || undefined)}>
              <option value="">choose one</option>
              {(all.data ?? []).map((one) => (
                <option key={one.id} value={one.id}>
                  {one.definition.name}
                </option>
              ))}
            </Select>
          </Field>
          <Field label="Alert" error={choices.error?.message}>
            <Select
              disabled={!chosen}
              value={chosen ? labelKey(chosen.labels) : ''}
              onChange={(event) => setKey(event.target.value)}
            >
              {alerts.map((one) => (
                <option key={labelKey(one.labels)} value={labelKey(one.labels)}>
                  {one.name}, now {one.value}
                </option>
              ))}
            </Select>
          </Field>
          <Field label="As if it were">
            <Select value={severity ?? chosen?.severity ?? ''} onChange={(event) => setSeverity(event.target.value as Severity)}>
              {SEVERITIES.map((one) => (
                <option key={one}>{one}</option>
              ))}
            </Select>
          </Field>
        </div>
        {choices.data && alerts.length === 0 && <p className="text-muted">This rule looks at nothing now; choose another one.</p>}
        {chosen && (
          <fieldset>
            <legend className="text-[13px] text-muted">Row {chosen.path} answers for it. It would tell now:</legend>
            {people.length === 0 && <p className="text-critical">Nobody: each rung of its ladder is empty now.</p>}
            {people.map((one) => (
              <label key={one.person} className="flex items-center gap-2 py-0.5">
                <input
                  type="checkbox"
                  checked={!left.includes(one.person)}
                  onChange={() =>
                    setLeft(left.includes(one.person) ? left.filter((id) => id !== one.person) : [...left, one.person])
                  }
                />
                {one.name}
                <span className="text-[13px] text-muted">{one.words}</span>
              </label>
            ))}
          </fieldset>
        )}
        {ask.error && (
          <p role="alert" className="text-critical">
            {ask.error.message}
          </p>
        )}
        <div className="flex items-center justify-end gap-2">
          <p className="mr-auto text-[13px] text-muted">
            Only who agrees is told. Rungs wait a minute at most; it is over when somebody answered, or after ten minutes.
          </p>
          <Button onClick={onDone}>Back</Button>
          <Button type="submit" look="accent" disabled={!chosen || asked.length === 0 || ask.isPending}>
            {asked.some((one) => one.person !== self) ? 'Ask them' : 'Prepare it'}
          </Button>
        </div>
      </form>
    </Sheet>
  );
}

/** Whom it would tell, each once, with the rungs and the ways. */
function reached(alert: PlayedAlert): { person: number; name: string; words: string }[] {
  const people = [...new Set(alert.rungs.map((one) => one.person))];
  return people.map((person) => {
    const rungs = alert.rungs.filter((one) => one.person === person);
    const words = rungs.map((one) => `rung ${one.rung} by ${listed(one.ways)}`).join('; ');
    return { person, name: rungs[0]!.name, words };
  });
}
