import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { watch } from '../api/queries';

type Act = { id: number; action: 'acknowledge' | 'resolve' | 'hand-back' } | { id: number; action: 'notes'; note: string };

/** Acknowledge, resolve, hand back, note; what was done can be taken back where that is possible. */
export function useAct() {
  const queries = useQueryClient();
  const act = useMutation({
    mutationFn: (what: Act) =>
      what.action === 'notes'
        ? send('post', '/api/incidents/{id}/notes', { path: { id: what.id }, body: { note: what.note } })
        : send('post', `/api/incidents/{id}/${what.action}`, { path: { id: what.id } }),
    onSuccess: (detail, what) => {
      queries.setQueryData(watch.incident(what.id).queryKey, detail);
      void queries.invalidateQueries({ queryKey: watch.key });
      if (what.action === 'acknowledge') {
        toast('You have it. The ladder stops here.', {
          action: { label: 'Undo', onClick: () => act.mutate({ id: what.id, action: 'hand-back' }) },
        });
      }
      if (what.action === 'resolve') toast('Resolved. Whoever was told hears of it.');
    },
    onError: (error) => {
      toast.error(error.message);
      void queries.invalidateQueries({ queryKey: watch.key });
    },
  });
  return act;
}
