import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import { Answered } from '../ui/answered';
import { Button, Sheet } from '../ui/controls';
import { dayClock } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
import { useMay, useZone } from '../ui/session';
import { changeWords } from './plan-words';

/** Every state of who hears, with who, when and why, and a way back to each. */
export function PlanRevisions({ inService }: { inService: number }) {
  const zone = useZone();
  const may = useMay();
  const queries = useQueryClient();
  const revisions = useQuery(delivery.revisions());
  const back = useMutation({
    mutationFn: (revision: number) => send('post', '/api/plan/draft', { body: { revision } }),
    onSuccess: (page, revision) => {
      queries.setQueryData(delivery.plan().queryKey, page);
      toast(`${revision === 0 ? 'As it was installed' : `Revision ${revision}`} is the draft now, and not in service yet.`);
    },
    onError: sayFailure,
  });
  return (
    <Sheet label="Revisions" className="p-4">
      <h2>Revisions</h2>
      <Answered
        of={revisions}
        what="the revisions"
        className="mt-1"
        isEmpty={(found) => found.length === 0}
        empty={<p className="text-muted">As it was installed; nobody changed who hears yet.</p>}
      >
        {(data) => (
          <ol className="mt-1 space-y-2">
            {data.map((one) => (
              <li key={one.number} className="border-t border-line pt-2 first:border-t-0">
                <div className="flex flex-wrap items-baseline gap-x-2">
                  <strong className="font-semibold">{one.number}</strong>
                  <span>{dayClock(one.at, zone)}</span>
                  <span className="text-muted">{one.author ?? 'Olivine'}</span>
                  {one.number === inService ? (
                    <span className="ml-auto text-muted">in service</span>
                  ) : (
                    may('set who hears') && (
                      <Button className="ml-auto" disabled={back.isPending} onClick={() => back.mutate(one.number)}>
                        Back to this
                      </Button>
                    )
                  )}
                </div>
                {one.reason && <p className="break-words">{one.reason}</p>}
                <p className="text-[13px] break-words text-muted">{one.changes.map(changeWords).join('; ') || 'says the same'}</p>
              </li>
            ))}
          </ol>
        )}
      </Answered>
      {inService > 0 && may('set who hears') && (
        <Button look="quiet" className="mt-2" disabled={back.isPending} onClick={() => back.mutate(0)}>
          Back to how it was installed
        </Button>
      )}
    </Sheet>
  );
}
