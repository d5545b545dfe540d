import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { session } from '../api/queries';
import { Button } from '../ui/controls';
import { dayClock } from '../ui/format';
import { sayFailure } from '../ui/say-failure';
import { useZone } from '../ui/session';
import { canBeTold, letBeTold } from './push';

/** Browsers that are told of what their owner is told of, also while no page is open in them. */
export function PushSection() {
  const zone = useZone();
  const queries = useQueryClient();
  const browsers = useQuery(session.browsers());
  const anew = () => queries.invalidateQueries({ queryKey: session.browsers().queryKey });
  const add = useMutation({
    mutationFn: (key: string) => letBeTold(key),
    onSuccess: (found) => queries.setQueryData(session.browsers().queryKey, found),
    onError: sayFailure,
  });
  const remove = useMutation({
    mutationFn: (id: number) => send('delete', '/api/session/browsers/{id}', { path: { id } }),
    onSuccess: anew,
    onError: sayFailure,
  });
  const test = useMutation({
    mutationFn: () => send('post', '/api/session/browsers/test', {}),
    onSuccess: (said) => (said.ok ? toast(`It was ${said.message}.`) : toast.error(said.message)),
    onError: sayFailure,
  });
  const found = browsers.data?.browsers ?? [];
  return (
    <section className="mt-4 border-t border-line pt-3">
      <h3 className="font-semibold">While no page is open</h3>
      <p className="text-muted">
        {canBeTold()
          ? 'A browser that lets itself be told is a channel like any other: rungs and your wishes name it browser.'
          : 'This browser cannot be told while no page is open in it; sound and notices in the page are all there is.'}
      </p>
      {found.length > 0 && (
        <ul className="mt-2">
          {found.map((one) => (
            <li key={one.id} className="flex items-center gap-2 py-0.5">
              <span>{one.label}</span>
              <span className="flex-1 text-[13px] text-muted">since {dayClock(one.at, zone)}</span>
              <Button look="quiet" onClick={() => remove.mutate(one.id)}>
                Let go
              </Button>
            </li>
          ))}
        </ul>
      )}
      <div className="mt-2 flex gap-2">
        {canBeTold() && browsers.data && (
          <Button disabled={add.isPending} onClick={() => add.mutate(browsers.data.key)}>
            Let this browser tell me
          </Button>
        )}
        {found.length > 0 && (
          <Button disabled={test.isPending} onClick={() => test.mutate()}>
            Try it
          </Button>
        )}
      </div>
    </section>
  );
}
