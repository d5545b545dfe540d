import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { UseFields } from '../api/types';
import { listed } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
import { useMay } from '../ui/session';

/** Where somebody or something is named before it goes, and a way to take it out there. */
export function UsedBy({ kind, name }: { kind: UseFields['kind']; name: string }) {
  const may = useMay();
  const queries = useQueryClient();
  const uses = useQuery(delivery.uses(kind, name));
  const out = useMutation({
    mutationFn: () => send('post', '/api/plan/draft/without', { body: { kind, name } }),
    onSuccess: (page) => {
      queries.setQueryData(delivery.plan().queryKey, page);
      void queries.invalidateQueries({ queryKey: delivery.key });
      toast('It is out of the draft of Delivery, which is not in service yet.');
    },
    onError: sayFailure,
  });
  if (!uses.data) return null;
  const { inService, draft, beside } = uses.data;
  const onlyDrafted = draft.filter((one) => !inService.includes(one)).map((one) => `${one} of the draft`);
  const all = [...inService, ...onlyDrafted, ...beside];
  if (all.length === 0) return <p className="text-[13px] text-muted">Named by no ladder, copy or team.</p>;
  return (
    <p className="text-[13px] text-muted">
      Named by {listed(all)}.{' '}
      {inService.length > 0 && (
        <>
          <Link to="/delivery" className="underline hover:text-ink">
            Delivery
          </Link>
          {may('set who hears') && (
            <>
              {' · '}
              <button type="button" className="underline hover:text-ink" disabled={out.isPending} onClick={() => out.mutate()}>
                take it out there, in the draft
              </button>
            </>
          )}
        </>
      )}
    </p>
  );
}
