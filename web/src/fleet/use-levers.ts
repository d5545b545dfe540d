import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { toast } from 'sonner';
import { send } from '../api/client';
import { fleet } from '../api/queries';
import { sayFailure } from '../ui/say-failure';

/** Pausing and removing what readings come from, scraped or asked; a removal can be undone. */
export function useLevers({ id, name }: { id: number; name: string }, list: '/fleet' | '/fleet/checks' | '/fleet/jobs') {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const changed = () => queries.invalidateQueries({ queryKey: fleet.key });
  const pause = useMutation({
    mutationFn: (paused: boolean) => send('post', '/api/targets/{id}/pause', { path: { id }, body: { paused } }),
    onSuccess: changed,
    onError: sayFailure,
  });
  const restore = async () => {
    await send('post', '/api/targets/{id}/restore', { path: { id } });
    await changed();
    void navigate({ to: `${list}/$id`, params: { id: String(id) } });
  };
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/targets/{id}', { path: { id } }),
    onSuccess: () => {
      // Only once nobody looks at it any more.
      void navigate({ to: list }).then(changed);
      toast(`Removed ${name}. Its readings are kept for a day.`, {
        duration: 12_000,
        action: { label: 'Undo', onClick: () => void restore().catch(sayFailure) },
      });
    },
    onError: sayFailure,
  });
  return { pause: (paused: boolean) => pause.mutate(paused), remove: () => remove.mutate() };
}
