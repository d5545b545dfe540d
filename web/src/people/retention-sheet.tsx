import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, read, send } from '../api/client';
import { Button, Input, Sheet } from '../ui/controls';
import { quantity } from '../ui/format';
import { Meanwhile } from '../ui/meanwhile';

const NAMES = { readings: 'readings as they came', fiveMinutes: 'five-minute roll-ups', hours: 'hourly roll-ups' } as const;
type Name = keyof typeof NAMES;

/** How long each tier is kept, what that takes, and what another choice would drop. */
export function RetentionSheet({ mayChange }: { mayChange: boolean }) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState<Partial<Record<Name, number>>>({});
  const asked = Object.fromEntries(Object.entries(draft).map(([name, days]) => [name, days || 1])) as typeof draft;
  const kept = useQuery({
    queryKey: ['retention', asked],
    queryFn: () => read('/api/retention', { query: asked }),
    placeholderData: (old) => old,
  });
  const [known, setKnown] = useState<Record<string, number> | null>(null);
  const was = known ?? Object.fromEntries((kept.data?.tiers ?? []).map((tier) => [tier.name, tier.days]));
  const save = useMutation({
    mutationFn: () => send('put', '/api/retention', { body: { ...draft, was } }),
    onSuccess: () => {
      setDraft({});
      setKnown(null);
      void queries.invalidateQueries({ queryKey: ['retention'] });
      toast('Kept so from now on; what is past its time goes within minutes.');
    },
  });
  const problem = save.error instanceof ApiError ? save.error : undefined;
  const there = problem?.status === 409 ? (problem.now as Record<string, number> | undefined) : undefined;
  const tiers = kept.data?.tiers ?? [];
  const dropped = tiers.filter(
    (tier) => draft[tier.name] !== undefined && draft[tier.name] !== tier.days && tier.droppedBytes > 0,
  );
  return (
    <Sheet label="What is kept" className="p-4">
      <h2>What is kept</h2>
      <p className="mb-2 text-muted">
        Fresh readings take {quantity(kept.data?.freshBytes ?? 0, 'bytes')} until they are sealed, a few hours after they came.
      </p>
      <div className="overflow-x-auto">
        <table className="w-full">
          <thead className="text-left text-muted">
            <tr>
              <th className="py-1 font-normal">tier</th>
              <th className="px-3 py-1 font-normal">kept for, days</th>
              <th className="px-3 py-1 text-right font-normal">now</th>
              <th className="px-3 py-1 text-right font-normal">a day</th>
              <th className="py-1 text-right font-normal">when full</th>
            </tr>
          </thead>
          <tbody>
            {tiers.map((tier) => {
              const days = draft[tier.name] ?? tier.days;
              return (
                <tr key={tier.name} className="border-t border-line">
                  <td className="py-1.5">{NAMES[tier.name]}</td>
                  <td className="px-3 py-1.5">
                    {mayChange ? (
                      <Input
                        type="number"
                        min={1}
                        max={3660}
                        aria-label={`Days to keep ${NAMES[tier.name]}`}
                        aria-invalid={problem?.field === tier.name}
                        value={days || ''}
                        onChange={(event) => setDraft({ ...draft, [tier.name]: Number(event.target.value) })}
                        className="max-w-24 min-w-22"
                      />
                    ) : (
                      days
                    )}
                  </td>
                  <td className="px-3 py-1.5 text-right whitespace-nowrap">
                    {quantity(tier.bytes, 'bytes')} <span className="text-muted">of {tier.coveredDays} d</span>
                  </td>
                  <td className="px-3 py-1.5 text-right whitespace-nowrap">{quantity(tier.bytesADay, 'bytes')}</td>
                  <td className="py-1.5 text-right whitespace-nowrap">{quantity(tier.bytesWhenFull, 'bytes')}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      {dropped.map((tier) => (
        <p key={tier.name} role="status" className="mt-2 text-critical">
          This would drop {tier.droppedDays} {tier.droppedDays === 1 ? 'day' : 'days'} of {NAMES[tier.name]},{' '}
          {quantity(tier.droppedBytes, 'bytes')}
          {tier.name === 'readings' && '; what has no five-minute roll-ups gets them first'}. It cannot be undone.
        </p>
      ))}
      {there && (
        <Meanwhile
          was={was}
          theirs={there}
          mine={{ ...was, ...draft }}
          words={NAMES}
          onMerge={(taken) => {
            setKnown(there);
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
      {mayChange && Object.keys(draft).length > 0 && (
        <div className="mt-3 flex justify-end gap-2">
          <Button
            onClick={() => {
              setDraft({});
              setKnown(null);
            }}
          >
            Leave it
          </Button>
          <Button look="accent" onClick={() => save.mutate()} disabled={save.isPending}>
            Keep it so
          </Button>
        </div>
      )}
    </Sheet>
  );
}
