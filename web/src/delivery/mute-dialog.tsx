import { useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { send } from '../api/client';
import { delivery, watch } from '../api/queries';
import type { MuteFields, ShownMute } from '../api/types';
import { fromInput, localText, toInput } from '../roster/local-time';
import { SpanFields } from '../roster/span-fields';
import { Button, Field, Input, Select } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { DialogForm, FormFaults, SelectField, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { useZone } from '../ui/session';
import { useSettled } from '../ui/use-settled';
import { hidesWords, recursWords, weekday } from './mute-words';

const MONO = 'var(--font-mono)';
const HOUR = 3_600_000;
const FOR: [string, number][] = [
  ['1 h', HOUR],
  ['4 h', 4 * HOUR],
  ['1 day', 24 * HOUR],
];
export type Of = { mute?: ShownMute; matching?: string; name?: string };
type Fields = Required<Omit<MuteFields, 'version'>>;

/** Hushes what matches: for a time, or as maintenance that may come again. */
export default function MuteDialog({ open, onOpenChange, ...of }: Of & { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <DialogBox open={open} onOpenChange={onOpenChange} title={of.mute ? of.mute.name : 'Hush alerts for a time'}>
      <MuteForm {...of} onDone={() => onOpenChange(false)} />
    </DialogBox>
  );
}

function fieldsOf({ mute, matching = '', name = '' }: Of, zone: string): Fields {
  if (mute) {
    const { kind, name, matching, reason, from, to, zone, recurs } = mute;
    return { kind, name, matching, reason, from, to, zone, recurs };
  }
  return { kind: 'mute', name, matching, reason: '', from: '', to: localText(Date.now() + HOUR, zone), zone, recurs: '' };
}

function MuteForm({ mute, matching, name, onDone }: Of & { onDone: () => void }) {
  const zone = useZone();
  const queries = useQueryClient();
  const form = useSheetForm<ShownMute | null, Fields, unknown>({
    of: mute ?? null,
    fieldsOf: (of) => fieldsOf({ mute: of ?? undefined, matching, name }, zone),
    save: (fields, of) =>
      of
        ? send('put', '/api/mutes/{id}', { path: { id: of.id }, body: { ...fields, version: of.version } })
        : send('post', '/api/mutes', { body: fields }),
    onSaved: () => {
      void queries.invalidateQueries({ queryKey: delivery.key });
      void queries.invalidateQueries({ queryKey: watch.key });
      toast(`${form.getValues('name')} is set. Delivery shows what it hides.`);
      onDone();
    },
  });
  const { kind, from, to, recurs } = form.fields;
  const set = (field: keyof Fields, value: string) => form.setValue(field, value, { shouldDirty: true });
  const begin = from === '' ? Date.now() : Date.parse(`${toInput(from)}:00Z`);
  return (
    <DialogForm form={form}>
      <TextField
        form={form}
        name="matching"
        label="What"
        help={<Matches matching={form.fields.matching} />}
        style={{ fontFamily: MONO }}
      />
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <TextField form={form} name="name" label="Name" help="As the trail will say it" />
        <SelectField
          form={form}
          name="kind"
          label="Kind"
          help={kind === 'mute' ? 'You hear before it ends' : 'Left out of availability'}
        >
          <option value="mute">mute</option>
          <option value="maintenance">maintenance</option>
        </SelectField>
      </div>
      <TextField form={form} name="reason" label="Why" help="Whoever wonders at night why nobody was told reads it" />
      {kind === 'mute' ? (
        <Field label="Until" error={form.fault('to')} help={`On the clocks of ${zone}`}>
          <div className="flex flex-wrap gap-2">
            <Input
              type="datetime-local"
              aria-label="Until"
              className="!w-auto"
              value={toInput(to)}
              onChange={(event) => set('to', fromInput(event.target.value))}
            />
            {FOR.map(([words, ms]) => (
              <Button key={words} onClick={() => set('to', localText(Date.now() + ms, zone))}>
                {words}
              </Button>
            ))}
          </div>
        </Field>
      ) : (
        <>
          <SpanFields form={form} names={['from', 'to']} zone={zone} />
          <Field label="Comes again" error={form.fault('recurs')} help="A rule of RFC 5545, by its first time above">
            <div className="flex gap-2">
              <Select
                aria-label="How often"
                value={choiceOf(recurs)}
                onChange={(event) => set('recurs', ruleOf(event.target.value, begin))}
              >
                <option value="">once</option>
                <option value="FREQ=DAILY">each day</option>
                <option value="week">each week on that day</option>
                <option value="own">by a rule</option>
              </Select>
              {choiceOf(recurs) === 'own' && (
                <Input
                  aria-label="Rule"
                  className="font-mono"
                  value={recurs}
                  onChange={(event) => set('recurs', event.target.value)}
                />
              )}
            </div>
          </Field>
          {recurs !== '' && <p className="text-[13px] text-muted">{recursWords(recurs)}</p>}
        </>
      )}
      <FormFaults form={form} words={{ matching: 'what', reason: 'why', to: 'until', recurs: 'comes again' }} />
      <div className="flex justify-end gap-2 pt-2">
        <Button onClick={onDone}>Back</Button>
        <Button type="submit" look="accent" disabled={form.formState.isSubmitting}>
          {mute ? 'Keep it' : 'Hush them'}
        </Button>
      </div>
    </DialogForm>
  );
}

const choiceOf = (recurs: string) =>
  recurs === '' || recurs === 'FREQ=DAILY' ? recurs : /^FREQ=WEEKLY;BYDAY=[A-Z]{2}$/.test(recurs) ? 'week' : 'own';
const ruleOf = (choice: string, begin: number) =>
  choice === 'week'
    ? `FREQ=WEEKLY;BYDAY=${weekday(new Date(begin).toISOString())}`
    : choice === 'own'
      ? 'FREQ=MONTHLY;BYDAY=-1FR'
      : choice;

/** What it would hide now, said while it is typed. */
function Matches({ matching }: { matching: string }) {
  const settled = useSettled(matching, 400);
  const found = useQuery({ ...delivery.matched(settled), enabled: settled !== '' });
  if (settled === '') return 'Such as service = "boarding-gate" and severity != "critical"';
  if (found.error) return found.error.message;
  return found.data
    ? `Now it ${hidesWords({ hides: found.data.alerts, titles: found.data.titles }).replace(/^nothing/, 'hides nothing that')}`
    : ' ';
}
