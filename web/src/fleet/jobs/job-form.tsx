import { useQueryClient } from '@tanstack/react-query';
import { Controller } from 'react-hook-form';
import { toast } from 'sonner';
import { send } from '../../api/client';
import { fleet } from '../../api/queries';
import type { JobSettings } from '../../api/types';
import { Button, Field, Select } from '../../ui/controls';
import { DialogForm, DurationField, FormFaults, TextField, WholeField } from '../../ui/form/fields';
import { useSheetForm } from '../../ui/form/sheet-form';
import { useSession } from '../../ui/session';
import { ZoneSelect } from '../../ui/zone';
import { LabelFields } from '../label-fields';

const USUAL_GRACE_SECONDS = 300;

const fieldsOf = (job: JobSettings | undefined) => ({
  name: job?.name ?? '',
  by: job?.everySeconds ? 'interval' : 'times',
  cron: job?.cron ?? '30 2 * * *',
  zone: job?.zone ?? '',
  everySeconds: (job?.everySeconds ?? 900) as number | null,
  graceSeconds: (job?.graceSeconds ?? USUAL_GRACE_SECONDS) as number | null,
  longestSeconds: job?.longestSeconds ?? (null as number | null),
  mostAtOnce: job?.mostAtOnce ?? 1,
  labels: job?.labels ?? {},
});
type Fields = ReturnType<typeof fieldsOf>;

const bodyOf = ({ name, by, cron, zone, everySeconds, graceSeconds, longestSeconds, mostAtOnce, labels }: Fields) => ({
  name: name.trim(),
  cron: by === 'times' ? cron.trim() : null,
  zone: by === 'times' && zone !== '' ? zone : null,
  everySeconds: by === 'times' ? null : everySeconds,
  graceSeconds: graceSeconds ?? 0,
  longestSeconds,
  mostAtOnce,
  labels,
});

/** When a job is to run, how late it may be and how long it may take. */
export function JobForm({ job, onDone }: { job?: JobSettings; onDone: (saved?: JobSettings) => void }) {
  const queries = useQueryClient();
  const { siteZone } = useSession();
  const form = useSheetForm<JobSettings | undefined, Fields, JobSettings>({
    of: job,
    fieldsOf,
    save: (fields, of) =>
      of
        ? send('put', '/api/jobs/{id}', { path: { id: of.id }, body: { ...bodyOf(fields), version: of.version } })
        : send('post', '/api/jobs', { body: bodyOf(fields) }),
    onSaved: (saved) => {
      void queries.invalidateQueries({ queryKey: fleet.key });
      toast(`${saved.name} is expected ${saved.schedule}.`);
      onDone(saved);
    },
  });
  const { fields } = form;
  return (
    <DialogForm form={form}>
      <TextField form={form} name="name" label="Name" help="As people call it: nightly backup" autoComplete="off" />
      <div className="grid grid-cols-[10rem_1fr_1fr] gap-3 max-sm:grid-cols-1">
        <Field label="It runs">
          <Select {...form.register('by')}>
            <option value="times">at set times</option>
            <option value="interval">every so often</option>
          </Select>
        </Field>
        {fields.by === 'times' ? (
          <>
            <TextField
              form={form}
              name="cron"
              label="Times"
              help="minute, hour, day, month, weekday: 30 2 * * 1-5"
              autoComplete="off"
              className="font-mono"
            />
            <Field label="On the clocks of" error={form.fault('zone')}>
              <ZoneSelect
                value={fields.zone === '' ? siteZone : fields.zone}
                onChange={(zone) => form.setValue('zone', zone, { shouldDirty: true })}
              />
            </Field>
          </>
        ) : (
          <DurationField form={form} name="everySeconds" label="Every" help="counted from its last beginning: 15m" />
        )}
      </div>
      <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
        <DurationField form={form} name="graceSeconds" label="May be late by" help="then it is missing" />
        <DurationField form={form} name="longestSeconds" label="May take" help="or empty" />
        <WholeField form={form} name="mostAtOnce" label="At once" help="runs, at most" min={1} />
      </div>
      <Controller
        control={form.control}
        name="labels"
        render={({ field }) => (
          <LabelFields
            value={field.value}
            offered={job ? [] : ['service']}
            error={form.fault('labels')}
            help="They tie it to whatever else is known of the same service."
            onChange={field.onChange}
          />
        )}
      />
      <FormFaults form={form} words={{ everySeconds: 'every, seconds', graceSeconds: 'may be late by, seconds' }} />
      <div className="flex justify-end gap-2 pt-2">
        <Button onClick={() => onDone()}>Cancel</Button>
        <Button type="submit" look="accent" disabled={form.formState.isSubmitting || fields.name === ''}>
          {job ? 'Save' : 'Add'}
        </Button>
      </div>
    </DialogForm>
  );
}
