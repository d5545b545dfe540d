import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { PartFromFile, PlanCompared, ShownPlanDraft } from '../api/types';
import { Button, Field, Input, Sheet } from '../ui/controls';
import { dayClock, listed, many } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';
import { changeWords, comparedWords, personWords } from './plan-words';

/** What is changed and not in service yet: seen, tried on what happened, put into service with a reason, or thrown away. */
type Props = { draft: ShownPlanDraft; inService: number; files: PartFromFile[] };
export function DraftSheet({ draft, inService, files }: Props) {
  const changed = new Set(draft.changes.map((change) => `${change.kind} ${change.name}`));
  const ofFiles = files.filter((one) => changed.has(one.part));
  const zone = useZone();
  const may = useMay();
  const queries = useQueryClient();
  const [reason, setReason] = useState('');
  const past = useMutation({
    mutationFn: () => send('post', '/api/plan/draft/past', { body: {} as never }),
    onError: sayFailure,
  });
  const again = () => void queries.invalidateQueries({ queryKey: delivery.key });
  const put = useMutation({
    mutationFn: () => send('put', '/api/plan', { body: { version: draft.version, reason, overFiles: ofFiles.length > 0 } }),
    onSuccess: (page) => {
      queries.setQueryData(delivery.plan().queryKey, page);
      again();
      toast(`Revision ${page.inService.number} is in service.`);
    },
    onError: (error) => {
      again();
      sayFailure(error);
    },
  });
  const drop = useMutation({
    mutationFn: () => send('delete', '/api/plan/draft'),
    onSuccess: () => {
      again();
      toast('The draft is thrown away. What is in service stays as it is.');
    },
    onError: sayFailure,
  });
  return (
    <Sheet label="The draft" className="border-accent p-4">
      <h2>
        A draft that is not in service{' '}
        <span className="font-normal text-muted">
          {draft.author ?? 'somebody'}, {dayClock(draft.at, zone)}
        </span>
      </h2>
      {draft.changes.length === 0 ? (
        <p className="mt-1 text-muted">It says the same as what is in service.</p>
      ) : (
        <ul className="mt-1 list-disc pl-5">
          {draft.changes.map((change) => (
            <li key={`${change.kind} ${change.name} ${change.what}`} className="break-words">
              {changeWords(change)}
            </li>
          ))}
        </ul>
      )}
      {draft.base !== inService && (
        <p className="mt-2 text-muted">
          It began from revision {draft.base}; what came into service since is laid into it, part by part.
        </p>
      )}
      {ofFiles.length > 0 && (
        <p className="mt-2">
          {listed(ofFiles.map((one) => `${one.part} comes from ${one.file}`))}. Changed here{' '}
          {ofFiles.length === 1 ? 'it differs' : 'they differ'} from that, and the next apply asks which of the two is meant.
        </p>
      )}
      {past.data && <Compared compared={past.data} />}
      {may('set who hears') && (
        <form
          className="mt-3 flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            put.mutate();
          }}
        >
          <Field label="Why" className="min-w-48 flex-1">
            <Input
              value={reason}
              placeholder="Nights have a desk of their own"
              onChange={(event) => setReason(event.target.value)}
            />
          </Field>
          <Button look="quiet" disabled={drop.isPending} onClick={() => drop.mutate()}>
            Throw it away
          </Button>
          <Button disabled={past.isPending} onClick={() => past.mutate()}>
            {past.isPending ? 'Trying …' : 'Try on the last 30 days'}
          </Button>
          <Button type="submit" look="accent" disabled={put.isPending || draft.changes.length === 0}>
            {ofFiles.length > 0 ? 'Put into service all the same' : 'Put into service'}
          </Button>
        </form>
      )}
    </Sheet>
  );
}

function Compared({ compared }: { compared: PlanCompared }) {
  const zone = useZone();
  const people = personWords(compared);
  return (
    <div role="status" className="mt-3 rounded-lg bg-accent-soft p-3">
      {many(compared.alerts, 'alert')} since {dayClock(compared.from, zone)}, if nobody had acted: {comparedWords(compared)}.
      {people.length > 0 && (
        <ul className="mt-1 list-disc pl-5 text-[13px]">
          {people.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      )}
    </div>
  );
}
