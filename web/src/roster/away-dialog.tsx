import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { rosters as asked } from '../api/queries';
import type { AwayFields, ShownAbsence } from '../api/types';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { DialogForm, FormFaults, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { useMay, useSession } from '../ui/session';
import { localText } from './local-time';
import { PersonField, SpanFields } from './span-fields';

type Props = { people: { id: number; name: string }[]; zone: string };
/** Somebody says when they are away; an administrator says so for others too. */
export function AwayDialog({ people, zone }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox open={open} onOpenChange={setOpen} title="Away" trigger={<Button>Away …</Button>}>
      <AwayForm people={people} zone={zone} onDone={() => setOpen(false)} />
    </DialogBox>
  );
}

function AwayForm({ people, zone, onDone }: Props & { onDone: () => void }) {
  const { person } = useSession();
  const may = useMay();
  const queries = useQueryClient();
  const form = useSheetForm<null, AwayFields, ShownAbsence>({
    of: null,
    fieldsOf: () => {
      const now = Math.ceil(Date.now() / 3_600_000) * 3_600_000;
      return { person: person.id, from: localText(now, zone), to: localText(now + 86_400_000, zone), zone, note: '' };
    },
    save: (fields) => send('post', '/api/absences', { body: fields }),
    onSaved: (absence) => {
      void queries.invalidateQueries({ queryKey: asked.key });
      toast(`${absence.person} is away then. Where nobody takes the place, the rosters show the gap.`);
      onDone();
    },
  });
  return (
    <DialogForm form={form}>
      {may('keep people') && <PersonField form={form} name="person" label="Who" people={people} />}
      <SpanFields form={form} names={['from', 'to']} zone={zone} />
      <TextField form={form} name="note" label="Why" help="Such as: training. Everybody reads it" />
      <FormFaults form={form} />
      <div className="flex justify-end gap-2 pt-2">
        <Button onClick={onDone}>Back</Button>
        <Button type="submit" look="accent" disabled={form.formState.isSubmitting}>
          Keep it
        </Button>
      </div>
    </DialogForm>
  );
}
