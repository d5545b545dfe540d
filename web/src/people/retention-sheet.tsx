import { useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { people, setup } from '../api/queries';
import type { Retention } from '../api/types';
import { Answered, Old } from '../ui/answered';
import { Button, Input, Sheet } from '../ui/controls';
import { many, quantity } from '../ui/format';
import { FormFaults } from '../ui/form/fields';
import { LeaveGuard } from '../ui/form/leave-guard';
import { useSheetForm } from '../ui/form/sheet-form';
import { useMay } from '../ui/session';

const NAMES = { readings: 'readings as they came', fiveMinutes: 'five-minute roll-ups', hours: 'hourly roll-ups' } as const;
type Name = keyof typeof NAMES;
type Days = Record<Name, number>;
type Tier = Retention['tiers'][number];

const daysOf = ({ tiers }: Retention): Days => Object.fromEntries(tiers.map((tier) => [tier.name, tier.days])) as Days;

/** How long each tier is kept, what that takes, and what another choice would drop. */
export function RetentionSheet() {
  const may = useMay();
  const kept = useQuery(setup.retention({}));
  return (
    <Sheet label="What is kept" className="p-4">
      <h2>What is kept</h2>
      <Answered of={kept} what="what is kept">
        {(data) => (
          <>
            <p className="mb-2 text-muted">
              Fresh readings take {quantity(data.freshBytes, 'bytes')} until they are sealed, a few hours after they came.
            </p>
            {may('keep settings') ? <DaysForm kept={data} /> : <Tiers tiers={data.tiers}>{(tier) => tier.days}</Tiers>}
          </>
        )}
      </Answered>
    </Sheet>
  );
}

function DaysForm({ kept }: { kept: Retention }) {
  const queries = useQueryClient();
  const form = useSheetForm({
    of: daysOf(kept),
    fieldsOf: (days) => days,
    save: (days, was) => send('put', '/api/retention', { body: { ...days, was } }),
    baseOf: daysOf,
    onSaved: () => {
      void queries.invalidateQueries({ queryKey: setup.key });
      void queries.invalidateQueries({ queryKey: people.key });
      toast('Kept so from now on; what is past its time goes within minutes.');
    },
  });
  const asked = Object.fromEntries(Object.entries(form.fields).map(([name, days]) => [name, days >= 1 ? days : 1])) as Days;
  const outlook = useQuery(setup.retention(form.changed ? asked : {}));
  const isKnown = outlook.data !== undefined && !outlook.isPlaceholderData && !outlook.isError;
  const tiers = outlook.data?.tiers ?? kept.tiers;
  const dropped = tiers.filter((tier) => form.fields[tier.name] !== form.of[tier.name] && tier.droppedBytes > 0);
  const faults = tiers.flatMap((tier) => form.fault(tier.name) ?? []);
  return (
    <form noValidate onSubmit={form.submit}>
      <Tiers tiers={tiers}>
        {(tier) => (
          <Input
            type="number"
            aria-label={`Days to keep ${NAMES[tier.name]}`}
            aria-invalid={form.fault(tier.name) ? true : undefined}
            aria-describedby={faults.length > 0 ? 'retention-fault' : undefined}
            {...form.register(tier.name, { valueAsNumber: true })}
            className="max-w-24 min-w-22"
          />
        )}
      </Tiers>
      <Old question={outlook} what="what this would take" />
      {dropped.map((tier) => (
        <p key={tier.name} role="status" className="mt-2 text-critical">
          This would drop {many(tier.droppedDays, 'day')} of {NAMES[tier.name]}, {quantity(tier.droppedBytes, 'bytes')}
          {tier.name === 'readings' && '; what has no five-minute roll-ups gets them first'}. It cannot be undone.
        </p>
      ))}
      {faults.length > 0 && (
        <p id="retention-fault" role="alert" className="mt-2 text-critical">
          {faults.join('; ')}
        </p>
      )}
      <FormFaults form={form} words={NAMES} />
      {form.changed && (
        <div className="mt-3 flex justify-end gap-2">
          <Button onClick={form.undo}>Leave it</Button>
          {/* Nobody agrees to what is not said yet: what it would drop is known first. */}
          <Button type="submit" look="accent" disabled={form.formState.isSubmitting || !isKnown}>
            {isKnown ? 'Keep it so' : 'Working out what that drops …'}
          </Button>
        </div>
      )}
      <LeaveGuard when={form.changed} />
    </form>
  );
}

function Tiers({ tiers, children }: { tiers: Tier[]; children: (tier: Tier) => React.ReactNode }) {
  return (
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
          {tiers.map((tier) => (
            <tr key={tier.name} className="border-t border-line">
              <td className="py-1.5">{NAMES[tier.name]}</td>
              <td className="px-3 py-1.5">{children(tier)}</td>
              <td className="px-3 py-1.5 text-right whitespace-nowrap">
                {quantity(tier.bytes, 'bytes')} <span className="text-muted">of {many(tier.coveredDays, 'd', 'd')}</span>
              </td>
              <td className="px-3 py-1.5 text-right whitespace-nowrap">{quantity(tier.bytesADay, 'bytes')}</td>
              <td className="py-1.5 text-right whitespace-nowrap">{quantity(tier.bytesWhenFull, 'bytes')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
