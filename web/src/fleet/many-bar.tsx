import { useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { fleet } from '../api/queries';
import { Button } from '../ui/controls';
import { many, whole } from '../ui/format';
import { sayFailure } from '../ui/say-failure';

type Action = 'pause' | 'resume' | 'remove' | 'restore';
const BACK: Record<Action, Action> = { pause: 'resume', resume: 'pause', remove: 'restore', restore: 'remove' };
const PAST: Record<Action, string> = { pause: 'Paused', resume: 'Resumed', remove: 'Removed', restore: 'Brought back' };

/** What can be done to the chosen targets at once, and be taken back; those that the search hides are chosen still, and it says so. */
export function ManyBar({ chosen, unseen, onDone }: { chosen: ReadonlySet<number>; unseen: number; onDone: () => void }) {
  const queries = useQueryClient();
  const run = async (action: Action, ids: number[]) => {
    const { changed } = await send('post', '/api/targets/many', { body: { action, ids } });
    void queries.invalidateQueries({ queryKey: fleet.key });
    return changed;
  };
  const act = (action: Action) =>
    void run(action, [...chosen]).then((changed) => {
      const words =
        changed.length === 0
          ? `None of them was there to ${action}.`
          : `${PAST[action]} ${many(changed.length, 'target')}.` +
            (action === 'remove' ? ' Their readings are kept for a day.' : '');
      toast(words, {
        duration: 12_000,
        action:
          changed.length > 0
            ? {
                label: 'Undo',
                onClick: () => void run(BACK[action], changed).catch(sayFailure),
              }
            : undefined,
      });
      onDone();
    }, sayFailure);
  return (
    <div role="toolbar" aria-label="Chosen targets" className="ml-auto flex items-center gap-1.5">
      <span className="font-semibold">
        {whole(chosen.size)} chosen
        {unseen > 0 && <span className="font-normal text-minor">, {whole(unseen)} not shown</span>}
      </span>
      <Button onClick={() => act('pause')}>Pause</Button>
      <Button onClick={() => act('resume')}>Resume</Button>
      <Button onClick={() => act('remove')}>Remove</Button>
      <Button look="quiet" aria-label="Choose none" onClick={onDone}>
        ×
      </Button>
    </div>
  );
}
