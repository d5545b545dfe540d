import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, read, send } from '../api/client';
import { Button, Input, Sheet } from '../ui/controls';
import { Meanwhile } from '../ui/meanwhile';

/** What a target may bring before its scrape is refused as a whole. */
export function LimitsSheet({ mayChange }: { mayChange: boolean }) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState<Record<string, number>>({});
  const limits = useQuery({ queryKey: ['limits'], queryFn: () => read('/api/limits') });
  const was = Object.fromEntries((limits.data ?? []).map((limit) => [limit.name, limit.value]));
  const save = useMutation({
    mutationFn: (values: Record<string, number>) => send('put', '/api/limits', { body: { ...values, was } }),
    onSuccess: (now) => {
      queries.setQueryData(['limits'], now);
      setDraft({});
      toast('Targets may bring so much from their next scrape on.');
    },
  });
  const problem = save.error instanceof ApiError ? save.error : undefined;
  const there = problem?.status === 409 ? (problem.now as Record<string, number> | undefined) : undefined;
  const unusual = (limits.data ?? []).filter((limit) => (draft[limit.name] ?? limit.value) !== limit.usual);
  return (
    <Sheet label="What a target may bring" className="p-4">
      <h2>What a target may bring</h2>
      <p className="mb-2 text-muted">
        Past any of these its scrape is refused as a whole, and the target says so with the label to look at. Late readings are
        refused one by one.
      </p>
      <table className="w-full">
        <tbody>
          {limits.data?.map((limit) => (
            <tr key={limit.name} className="border-t border-line">
              <td className="w-32 py-1.5">
                {mayChange ? (
                  <Input
                    type="number"
                    min={limit.least}
                    max={limit.most}
                    aria-label={limit.words}
                    aria-invalid={problem?.field === limit.name}
                    value={(draft[limit.name] ?? limit.value) || (limit.least === 0 ? 0 : '')}
                    onChange={(event) => setDraft({ ...draft, [limit.name]: Number(event.target.value) })}
                    className="text-right"
                  />
                ) : (
                  <span className="block text-right font-semibold">{limit.value.toLocaleString('en')}</span>
                )}
              </td>
              <td className="px-3 py-1.5">
                {limit.words}
                {unusual.includes(limit) && <span className="text-muted"> · usually {limit.usual.toLocaleString('en')}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {there && (
        <Meanwhile
          was={was}
          theirs={there}
          mine={{ ...was, ...draft }}
          onMerge={(taken) => {
            queries.setQueryData(
              ['limits'],
              limits.data?.map((limit) => ({ ...limit, value: there[limit.name] ?? limit.value })),
            );
            setDraft(Object.fromEntries(Object.entries(taken).filter(([name, value]) => value !== there[name])));
            save.reset();
          }}
        />
      )}
      {problem && !there && (
        <p role="alert" className="mt-2 text-critical">
          {problem.message}
        </p>
      )}
      {mayChange && (Object.keys(draft).length > 0 || unusual.length > 0) && (
        <div className="mt-3 flex justify-end gap-2">
          {unusual.length > 0 && (
            <Button onClick={() => setDraft(Object.fromEntries((limits.data ?? []).map((limit) => [limit.name, limit.usual])))}>
              Take the usual ones
            </Button>
          )}
          {Object.keys(draft).length > 0 && <Button onClick={() => setDraft({})}>Leave it</Button>}
          <Button look="accent" onClick={() => save.mutate(draft)} disabled={save.isPending || Object.keys(draft).length === 0}>
            Keep it so
          </Button>
        </div>
      )}
    </Sheet>
  );
}
