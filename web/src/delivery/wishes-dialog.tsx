import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Controller } from 'react-hook-form';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery } from '../api/queries';
import type { Severity, ShownWishes, WishesDefinition } from '../api/types';
import { Answered } from '../ui/answered';
import { Button } from '../ui/controls';
import { Checks } from '../ui/form/checks';
import { DialogBox } from '../ui/dialog-box';
import { DialogForm, FormFaults } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { listed } from '../ui/format';
import { Crystal, SEVERITIES } from '../ui/severity';
import { HoursEditor } from './hours-editor';

/** How one wants to be told, where a rung leaves it to oneself: by which channels, and in which hours by none. */
export default function WishesDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const wishes = useQuery({ ...delivery.wishes(), enabled: open });
  return (
    <DialogBox open={open} onOpenChange={onOpenChange} title="How you are told" wide={680}>
      <Answered of={wishes} what="how you are told">
        {(data) => <WishesForm shown={data} onDone={() => onOpenChange(false)} />}
      </Answered>
    </DialogBox>
  );
}

function WishesForm({ shown, onDone }: { shown: ShownWishes; onDone: () => void }) {
  const queries = useQueryClient();
  const form = useSheetForm<WishesDefinition, WishesDefinition, ShownWishes>({
    of: shown.definition,
    fieldsOf: (of) => ({ ...of }),
    save: (definition, was) => send('put', '/api/session/wishes', { body: { definition, was } }),
    onSaved: (kept) => {
      queries.setQueryData(delivery.wishes().queryKey, kept);
      toast('From now on you are told so.');
      onDone();
    },
  });
  return (
    <DialogForm form={form}>
      <p className="text-muted">
        A rung that names channels of its own goes by those.{' '}
        {shown.usedBy.length > 0 && `You are named by ${listed(shown.usedBy)}.`}
      </p>
      <table className="w-full">
        <tbody>
          {SEVERITIES.map((severity) => (
            <Row key={severity} form={form} severity={severity} channels={shown.channels} />
          ))}
        </tbody>
      </table>
      <Controller
        control={form.control}
        name="quiet"
        render={({ field }) => (
          <HoursEditor
            value={field.value}
            zone={shown.zone}
            always="No quiet hours"
            some="Quiet hours: what is less than critical waits until they are over"
            begin={{ days: [1, 2, 3, 4, 5, 6, 7], from: '22:00', to: '07:00' }}
            onChange={field.onChange}
          />
        )}
      />
      <FormFaults form={form} />
      <div className="flex justify-end gap-2 pt-1">
        <Button onClick={onDone}>Cancel</Button>
        <Button type="submit" look="accent" disabled={form.formState.isSubmitting}>
          Keep it
        </Button>
      </div>
    </DialogForm>
  );
}

type RowProps = {
  form: ReturnType<typeof useSheetForm<WishesDefinition, WishesDefinition, ShownWishes>>;
  severity: Severity;
  channels: string[];
};
function Row({ form, severity, channels }: RowProps) {
  return (
    <tr className="border-t border-line">
      <th className="w-36 py-2 text-left font-medium">
        <span className="flex items-center gap-2">
          <Crystal severity={severity} /> {severity}
        </span>
      </th>
      <td className="py-2">
        <Controller
          control={form.control}
          name={severity}
          render={({ field }) => (
            <div role="group" aria-label={`Channels for ${severity}`} className="flex flex-wrap gap-x-3">
              <Checks of={channels.map((channel) => [channel, channel])} chosen={field.value} onChange={field.onChange} />
              {field.value.length === 0 && <span className="text-muted">whichever comes first</span>}
            </div>
          )}
        />
      </td>
    </tr>
  );
}
