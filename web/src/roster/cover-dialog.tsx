import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../api/client';
import { rosters as asked } from '../api/queries';
import type { CoverFields, RosterPerson, ShownCover, ShownRoster } from '../api/types';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { dayClock } from '../ui/format';
import { DialogForm, FormFaults, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { sayFailure } from '../ui/say-failure';
import { useSession } from '../ui/session';
import { type Wanted, coverWords } from './calendar';
import { localText } from './local-time';
import { PersonField, SpanFields } from './span-fields';

type Props = { roster: ShownRoster; people: RosterPerson[]; zone: string; wanted: Wanted | null; onDone: () => void };
/** A cover is asked for, or set. */
export function CoverDialog({ roster, people, zone, wanted, onDone }: Props) {
  return (
    <DialogBox open={wanted !== null} onOpenChange={(open) => !open && onDone()} title="Ask for a cover">
      {wanted && <CoverForm roster={roster} people={people} zone={zone} wanted={wanted} onDone={onDone} />}
    </DialogBox>
  );
}

function CoverForm({ roster, people, zone, wanted, onDone }: Omit<Props, 'wanted'> & { wanted: Wanted }) {
  const { person } = useSession();
  const queries = useQueryClient();
  const isLead = person.role === 'administrator';
  const now = Date.now();
  const form = useSheetForm<Wanted, CoverFields, ShownCover>({
    of: wanted,
    fieldsOf: (of) => ({
      person: of.personId ?? 0,
      for: of.forId ?? 0,
      from: localText(Math.max(of.from, now), zone),
      to: localText(of.to, zone),
      note: '',
      set: false,
      backFrom: '',
      backTo: '',
    }),
    save: (fields) =>
      send('post', '/api/rosters/{id}/covers', {
        path: { id: roster.id },
        body: fields,
      }),
    onSaved: (cover) => {
      void queries.invalidateQueries({ queryKey: asked.key });
      toast(
        cover.state === 'set'
          ? `${cover.person} covers for ${cover.for}.`
          : `${cover.person} was asked by mail, and can accept it here.`,
      );
      onDone();
    },
  });
  const others = people.filter((one) => one.id !== form.fields.for);
  return (
    <DialogForm form={form}>
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <PersonField form={form} name="person" label="Who stands in" people={others} nobody="choose" />
        <PersonField form={form} name="for" label="For whom" people={people} nobody="choose" />
      </div>
      <SpanFields form={form} names={['from', 'to']} zone={zone} />
      <div className="space-y-2">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={form.fields.backFrom !== ''}
            onChange={(event) => {
              const later = (days: number) => localText(Math.max(wanted.from, now) + days * 86_400_000, zone);
              form.setValue('backFrom', event.target.checked ? later(7) : '', { shouldDirty: true });
              form.setValue('backTo', event.target.checked ? later(8) : '', { shouldDirty: true });
            }}
          />
          As a swap: a shift of theirs is taken in return
        </label>
        {form.fields.backFrom !== '' && (
          <SpanFields form={form} names={['backFrom', 'backTo']} labels={['In return from', 'In return to']} />
        )}
      </div>
      <TextField form={form} name="note" label="Why" help="Goes with the question, such as: my sister marries" />
      {isLead && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={form.fields.set ?? false}
            onChange={(event) => form.setValue('set', event.target.checked, { shouldDirty: true })}
          />
          Set it without asking; both are told
        </label>
      )}
      <FormFaults form={form} />
      <div className="flex justify-end gap-2 pt-2">
        <Button onClick={onDone}>Back</Button>
        <Button
          type="submit"
          look="accent"
          disabled={form.fields.person === 0 || form.fields.for === 0 || form.formState.isSubmitting}
        >
          {form.fields.set ? 'Set it' : form.fields.person === person.id ? 'Offer it' : 'Ask'}
        </Button>
      </div>
    </DialogForm>
  );
}

type AnswerProps = { cover: ShownCover | null; zone: string; onDone: () => void };
/** A cover as it stands: accepted or declined by whoever was asked, taken back by whoever asked. */
export function CoverAnswer({ cover, zone, onDone }: AnswerProps) {
  return (
    <DialogBox open={cover !== null} onOpenChange={(open) => !open && onDone()} title={cover ? coverWords(cover) : ''} wide={440}>
      {cover && <Answer cover={cover} zone={zone} onDone={onDone} />}
    </DialogBox>
  );
}

function Answer({ cover, zone, onDone }: { cover: ShownCover; zone: string; onDone: () => void }) {
  return (
    <>
      <p>
        On the roster {cover.roster}, {dayClock(cover.from, zone)} to {dayClock(cover.to, zone)}
        {cover.askedBy && `, asked by ${cover.askedBy}`}
        {cover.inReturn && ', half of a swap: both halves are answered at once'}.
      </p>
      {cover.note !== '' && <p className="mt-1 text-muted">“{cover.note}”</p>}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onDone}>Back</Button>
        <CoverButtons cover={cover} onDone={onDone} />
      </div>
    </>
  );
}

/** What somebody may do about a cover. */
export function CoverButtons({ cover, onDone }: { cover: ShownCover; onDone?: () => void }) {
  const queries = useQueryClient();
  const [done, setDone] = useState(false);
  const act = useMutation({
    mutationFn: async (what: 'accept' | 'decline' | 'take back') => {
      const path = { id: cover.id };
      if (what === 'accept') await send('post', '/api/covers/{id}/accept', { path });
      else if (what === 'decline') await send('post', '/api/covers/{id}/decline', { path });
      else await send('delete', '/api/covers/{id}', { path });
      return what;
    },
    onSuccess: (what) => {
      setDone(true);
      void queries.invalidateQueries({ queryKey: asked.key });
      toast(
        {
          accept: `You cover for ${cover.for}.`,
          decline: `${cover.for} hears that you cannot.`,
          'take back': 'It is taken back.',
        }[what],
      );
      onDone?.();
    },
    onError: sayFailure,
  });
  if (done) return null;
  return (
    <>
      {cover.mayWithdraw && (
        <Button disabled={act.isPending} onClick={() => act.mutate('take back')}>
          Take it back
        </Button>
      )}
      {cover.mayAnswer && (
        <>
          <Button disabled={act.isPending} onClick={() => act.mutate('decline')}>
            I cannot
          </Button>
          <Button look="accent" disabled={act.isPending} onClick={() => act.mutate('accept')}>
            Accept
          </Button>
        </>
      )}
    </>
  );
}
