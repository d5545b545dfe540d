import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { watch } from '../api/queries';
import type { IncidentDetail } from '../api/types';
import { Button, Field, Input, Select } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { Checks } from '../ui/form/checks';
import { PersonSelect } from '../ui/form/person-select';
import { many } from '../ui/format';
import { sayFailure } from '../ui/say-failure';

/** What else one can do with an incident: give it to somebody, lay it into another one, take some of its alerts apart. */
export function HandsDialog({ incident }: { incident: IncidentDetail }) {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox open={open} onOpenChange={setOpen} title={`Incident ${incident.id}`} trigger={<Button>More …</Button>}>
      <div className="space-y-5">
        <Give incident={incident} onDone={() => setOpen(false)} />
        <Merge incident={incident} onDone={() => setOpen(false)} />
        {incident.alerts.filter((alert) => alert.clearedAt === null).length > 1 && (
          <Split incident={incident} onDone={() => setOpen(false)} />
        )}
      </div>
    </DialogBox>
  );
}

type Props = { incident: IncidentDetail; onDone: () => void };

function useDone(onDone: () => void) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  return (detail: IncidentDetail, words: string) => {
    queries.setQueryData(watch.incident(detail.id).queryKey, detail);
    void queries.invalidateQueries({ queryKey: watch.key });
    toast(words);
    onDone();
    void navigate({ to: '/incidents/$id', params: { id: String(detail.id) } });
  };
}

type AskProps = {
  by: { mutate: () => void; isPending: boolean };
  /** What the button says, and whether something lacks that it needs. */
  button: string;
  lacks: boolean;
  children: ReactNode;
};
function Ask({ by, button, lacks, children }: AskProps) {
  return (
    <form
      className="space-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        by.mutate();
      }}
    >
      {children}
      <Button type="submit" disabled={lacks || by.isPending}>
        {button}
      </Button>
    </form>
  );
}

function Give({ incident, onDone }: Props) {
  const [person, setPerson] = useState<number | null>(null);
  const [note, setNote] = useState('');
  const done = useDone(onDone);
  const give = useMutation({
    mutationFn: () =>
      send('post', '/api/incidents/{id}/assign', {
        path: { id: incident.id },
        body: { person: person!, note, forSeconds: null },
      }),
    onSuccess: (detail) => done(detail, `${detail.acknowledgedBy ?? 'They'} has it, and is told.`),
    onError: sayFailure,
  });
  return (
    <Ask by={give} button="Give" lacks={person === null}>
      <Field label="Give it to" help="Whoever gets it is told, and the ladder climbs no further">
        <PersonSelect value={person} onChange={setPerson} nobody="somebody" />
      </Field>
      <Input
        aria-label="What to tell them"
        placeholder="What to tell them"
        maxLength={1000}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
    </Ask>
  );
}

function Merge({ incident, onDone }: Props) {
  const [into, setInto] = useState<number | null>(null);
  const done = useDone(onDone);
  const all = useQuery(watch.over(24));
  const others = (all.data?.open ?? []).filter((one) => one.id !== incident.id);
  const merge = useMutation({
    mutationFn: () => send('post', '/api/incidents/{id}/merge', { path: { id: incident.id }, body: { into: into! } }),
    onSuccess: (detail) => done(detail, `Incident ${incident.id} is part of this one now.`),
    onError: sayFailure,
  });
  if (others.length === 0) return <p className="text-muted">No other incident is open that it could be part of.</p>;
  return (
    <Ask by={merge} button="Merge" lacks={into === null}>
      <Field label="It is part of" help="Its alerts go there, and whoever was told of it hears of that one from now on">
        <Select value={into ?? ''} onChange={(event) => setInto(event.target.value === '' ? null : Number(event.target.value))}>
          <option value="">another incident</option>
          {others.map((one) => (
            <option key={one.id} value={one.id}>
              {one.id}: {one.title}
            </option>
          ))}
        </Select>
      </Field>
    </Ask>
  );
}

function Split({ incident, onDone }: Props) {
  const [chosen, setChosen] = useState<string[]>([]);
  const done = useDone(onDone);
  const up = incident.alerts.filter((alert) => alert.clearedAt === null);
  const split = useMutation({
    mutationFn: () => send('post', '/api/incidents/{id}/split', { path: { id: incident.id }, body: { alerts: chosen } }),
    onSuccess: (detail) => done(detail, `${many(chosen.length, 'alert')} of incident ${incident.id} are one of their own now.`),
    onError: sayFailure,
  });
  return (
    <Ask by={split} button="Make an incident of its own of them" lacks={chosen.length === 0 || chosen.length === up.length}>
      <fieldset>
        <legend className="mb-1 font-medium">These are another matter</legend>
        <div className="max-h-48 space-y-1 overflow-y-auto">
          <Checks of={up.map((alert) => [alert.key, alert.name])} chosen={chosen} onChange={setChosen} />
        </div>
      </fieldset>
    </Ask>
  );
}
