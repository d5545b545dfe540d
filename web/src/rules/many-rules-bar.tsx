import { useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { rules } from '../api/queries';
import { Button } from '../ui/controls';
import { many, whole } from '../ui/format';
import { sayFailure } from '../ui/say-failure';

/** What can be done to the chosen rules at once, and be taken back. */
export function ManyRulesBar({ chosen, unseen, onDone }: { chosen: ReadonlySet<number>; unseen: number; onDone: () => void }) {
  const queries = useQueryClient();
  const run = async (enabled: boolean, ids: number[]) => {
    const { changed } = await send('post', '/api/rules/many', { body: { enabled, ids } });
    void queries.invalidateQueries({ queryKey: rules.key });
    return changed;
  };
  const act = (enabled: boolean) =>
    void run(enabled, [...chosen]).then((changed) => {
      const words =
        changed.length === 0 ? 'They were so already.' : `Switched ${enabled ? 'on' : 'off'} ${many(changed.length, 'rule')}.`;
      const undo = { label: 'Undo', onClick: () => void run(!enabled, changed).catch(sayFailure) };
      toast(words, { duration: 12_000, action: changed.length > 0 ? undo : undefined });
      onDone();
    }, sayFailure);
  return (
    <div role="toolbar" aria-label="Chosen rules" className="flex items-center gap-1.5">
      <span className="font-semibold">
        {whole(chosen.size)} chosen
        {unseen > 0 && <span className="font-normal text-minor">, {whole(unseen)} not shown</span>}
      </span>
      <Button onClick={() => act(true)}>Switch on</Button>
      <Button onClick={() => act(false)}>Switch off</Button>
      <Button look="quiet" aria-label="Choose none" onClick={onDone}>
        ×
      </Button>
    </div>
  );
}
