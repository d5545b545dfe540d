import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { watch } from '../api/queries';
import { span } from '../ui/format';

type Act =
  | { id: number; action: 'acknowledge'; forSeconds?: number }
  | { id: number; action: 'resolve' | 'hand-back' | 'cannot' }
  | { id: number; action: 'notes'; note: string };

function sent(what: Act) {
  const path = { id: what.id };
  switch (what.action) {
    case 'notes':
      return send('post', '/api/incidents/{id}/notes', { path, body: { note: what.note } });
    case 'acknowledge':
      return send('post', '/api/incidents/{id}/acknowledge', { path, body: { forSeconds: what.forSeconds ?? null } });
    default:
      return send('post', `/api/incidents/{id}/${what.action}`, { path });
  }
}

/** Acknowledge, resolve, hand back, say that one cannot, note; what was done can be taken back where that is possible. */
export function useAct() {
  const queries = useQueryClient();
  const act = useMutation({
    mutationFn: sent,
    onSuccess: (detail, what) => {
      queries.setQueryData(watch.incident(what.id).queryKey, detail);
      void queries.invalidateQueries({ queryKey: watch.key });
      if (what.action === 'acknowledge') {
        const ends =
          what.forSeconds === undefined ? 'stops here' : `begins anew in ${span(1_000 * what.forSeconds)}, unless it is over`;
        toast(`You have it. The ladder ${ends}.`, {
          action: { label: 'Undo', onClick: () => act.mutate({ id: what.id, action: 'hand-back' }) },
        });
      }
      if (what.action === 'cannot') toast('Noted. The next rung is climbed at once.');
      if (what.action === 'resolve') toast('Resolved. Whoever was told hears of it.');
    },
    onError: (error) => {
      toast.error(error.message);
      void queries.invalidateQueries({ queryKey: watch.key });
    },
  });
  return act;
}
