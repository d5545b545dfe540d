import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Controller } from 'react-hook-form';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { fleet } from '../api/queries';
import type { Target, TargetSettings } from '../api/types';
import { Button } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { span } from '../ui/format';
import { DialogForm, DurationField, FormFaults, SelectField, TextField } from '../ui/form/fields';
import { useSheetForm } from '../ui/form/sheet-form';
import { CredentialFields, NO_CREDENTIAL, credentialBody } from './credential-fields';
import { LabelFields } from './label-fields';
import { TestResult } from './test-result';

const NO_GROUP = '0';
const USUAL_SECONDS = 15;

export function ChangeTarget({ target }: { target: Target }) {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox open={open} onOpenChange={setOpen} title={`Change ${target.name}`} trigger={<Button>Change</Button>}>
      <TargetForm target={target} onDone={() => setOpen(false)} />
    </DialogBox>
  );
}

/** A target as the form has it; what is left empty comes from its group. */
const fieldsOf = (target: TargetSettings | undefined) => ({
  url: target?.url ?? '',
  name: target?.name ?? '',
  group: String(target?.group?.id ?? NO_GROUP),
  intervalSeconds: target?.inherits.includes('interval') ? null : (target?.intervalSeconds ?? USUAL_SECONDS),
  timeoutSeconds: !target || target.inherits.includes('timeout') ? null : target.timeoutSeconds,
  labels: target?.ownLabels ?? {},
  credential: NO_CREDENTIAL,
});
type Fields = ReturnType<typeof fieldsOf>;

function bodyOf({ group, intervalSeconds, timeoutSeconds, credential, ...rest }: Fields) {
  const isAlone = group === NO_GROUP;
  return {
    ...rest,
    ...(isAlone ? {} : { group: Number(group) }),
    ...(intervalSeconds !== null ? { intervalSeconds } : isAlone ? { intervalSeconds: USUAL_SECONDS } : {}),
    ...(timeoutSeconds !== null ? { timeoutSeconds } : {}),
    ...credentialBody(credential),
  };
}

/** Everything about a target; its address is asked before it is saved. */
export function TargetForm({ target, onDone }: { target?: Target; onDone: () => void }) {
  const queries = useQueryClient();
  const groups = useQuery(fleet.groups());
  // Whoever hands readings in says under what name, and when.
  const isHandedIn = target?.kind === 'pushed';
  const form = useSheetForm<TargetSettings | undefined, Fields, TargetSettings>({
    of: target,
    fieldsOf,
    save: (fields, of) =>
      of
        ? send('put', '/api/targets/{id}', { path: { id: of.id }, body: { ...bodyOf(fields), version: of.version } })
        : send('post', '/api/targets', { body: bodyOf(fields) }),
    onSaved: (saved) => {
      void queries.invalidateQueries({ queryKey: fleet.key });
      toast(
        isHandedIn
          ? `${saved.name} is changed.`
          : `${saved.name} is scraped every ${span(saved.intervalSeconds * 1000)} from now on.`,
      );
      onDone();
    },
  });
  const { fields } = form;
  const asked = JSON.stringify(bodyOf(fields));
  const test = useMutation({
    mutationFn: async () => {
      const body = { ...bodyOf(fields), ...(target ? { id: target.id } : {}) };
      return { asked, result: await send('post', '/api/targets/test', { body }) };
    },
    onError: (error) => {
      if (error instanceof ApiError && error.field && error.field in fields)
        form.setError(error.field as keyof Fields, { message: error.message });
      else toast.error(error.message);
    },
  });
  const group = groups.data?.find((one) => String(one.id) === fields.group);
  const fromGroup = (seconds: number | undefined, usual: number) =>
    group ? `${seconds ?? usual} s, from ${group.name}` : `${usual}s`;
  return (
    <DialogForm form={form}>
      {!isHandedIn && (
        <TextField
          form={form}
          name="url"
          label="URL of its metrics"
          help="For example http://web-1:9105/metrics"
          autoComplete="off"
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        {!isHandedIn && <TextField form={form} name="name" label="Name" autoComplete="off" />}
        <SelectField
          form={form}
          name="group"
          label="Group"
          help={groups.error ? groups.error.message : group ? 'What is left empty comes from there.' : undefined}
          onChosen={(id) => form.setValue('intervalSeconds', id === NO_GROUP ? USUAL_SECONDS : null, { shouldDirty: true })}
        >
          <option value={NO_GROUP}>none</option>
          {groups.data?.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </SelectField>
        {!isHandedIn && (
          <>
            {' '}
            <DurationField
              form={form}
              name="intervalSeconds"
              label="Scraped every"
              placeholder={fromGroup(group?.intervalSeconds, USUAL_SECONDS)}
            />
            <DurationField
              form={form}
              name="timeoutSeconds"
              label="Gives up after"
              placeholder={fromGroup(group?.timeoutSeconds, 10)}
            />
          </>
        )}
      </div>
      <Controller
        control={form.control}
        name="labels"
        render={({ field }) => (
          <LabelFields
            value={field.value}
            offered={target ? [] : ['service', 'site']}
            error={form.fault('labels')}
            help="Laid over the labels of each of its series."
            onChange={field.onChange}
          />
        )}
      />
      {!isHandedIn && (
        <Controller
          control={form.control}
          name="credential"
          render={({ field }) => (
            <CredentialFields
              shown={target?.inherits.includes('credential') ? null : (target?.credential ?? null)}
              draft={field.value}
              error={form.fault('credential')}
              onChange={field.onChange}
            />
          )}
        />
      )}
      <FormFaults
        form={form}
        secret="credential"
        words={{ url: 'address', intervalSeconds: 'scraped every, seconds', timeoutSeconds: 'gives up after, seconds' }}
      />
      {/* What was found of another address says nothing of this one. */}
      {test.data?.asked === asked && <TestResult test={test.data.result} />}
      <div className="flex justify-end gap-2 pt-2">
        <Button onClick={onDone}>Cancel</Button>
        {!isHandedIn && (
          <Button onClick={() => test.mutate()} disabled={test.isPending || !fields.url}>
            {test.isPending ? 'Asking …' : 'Test'}
          </Button>
        )}
        <Button type="submit" look="accent" disabled={form.formState.isSubmitting || !fields.url || !fields.name}>
          {target ? 'Save' : 'Add'}
        </Button>
      </div>
    </DialogForm>
  );
}
