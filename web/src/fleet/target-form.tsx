import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, read, send } from '../api/client';
import type { Target, TargetSettings, TargetTest } from '../api/types';
import { Button, Field, Input, Select, labelWords } from '../ui/controls';
import { DialogBox } from '../ui/dialog-box';
import { quantity } from '../ui/format';
import { Meanwhile } from '../ui/meanwhile';
import { CredentialFields, NO_CREDENTIAL, credentialBody } from './credential-fields';
import { LabelFields, labelBody, type LabelRow } from './label-fields';

export function AddTarget() {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox open={open} onOpenChange={setOpen} title="Add a target" trigger={<Button look="accent">Add a target</Button>}>
      <TargetForm onDone={() => setOpen(false)} />
    </DialogBox>
  );
}

export function ChangeTarget({ target }: { target: Target }) {
  const [open, setOpen] = useState(false);
  return (
    <DialogBox open={open} onOpenChange={setOpen} title={`Change ${target.name}`} trigger={<Button>Change</Button>}>
      <TargetForm target={target} onDone={() => setOpen(false)} />
    </DialogBox>
  );
}

/** A target as the form has it; a new one is asked every 15 s. */
const fieldsOf = (target: TargetSettings | undefined) => ({
  name: target?.name ?? '',
  url: target?.url ?? '',
  group: target?.group?.id ?? 0,
  interval: target && !target.inherits.includes('interval') ? String(target.intervalSeconds) : target ? '' : '15',
  timeout: target && !target.inherits.includes('timeout') ? String(target.timeoutSeconds) : '',
});

/** Everything about a target; what is left empty in a group comes from there. */
function TargetForm({ target, onDone }: { target?: Target; onDone: () => void }) {
  const queries = useQueryClient();
  const groups = useQuery({ queryKey: ['groups'], queryFn: () => read('/api/groups') });
  const [base, setBase] = useState<TargetSettings | undefined>(target);
  const [fields, setFields] = useState(() => fieldsOf(base));
  const [labels, setLabels] = useState<LabelRow[]>(() =>
    target
      ? Object.entries(target.ownLabels)
      : [
          ['service', ''],
          ['site', ''],
        ],
  );
  const [credential, setCredential] = useState(NO_CREDENTIAL);
  const group = groups.data?.find((one) => one.id === fields.group);
  const body = {
    name: fields.name,
    url: fields.url,
    labels: labelBody(labels),
    ...(fields.group ? { group: fields.group } : {}),
    ...(fields.interval ? { intervalSeconds: Number(fields.interval) } : fields.group ? {} : { intervalSeconds: 15 }),
    ...(fields.timeout ? { timeoutSeconds: Number(fields.timeout) } : {}),
    ...credentialBody(credential),
  };
  const test = useMutation({
    mutationFn: () => send('post', '/api/targets/test', { body: { ...body, ...(target ? { id: target.id } : {}) } }),
  });
  const save = useMutation({
    mutationFn: () =>
      base
        ? send('put', '/api/targets/{id}', { path: { id: base.id }, body: { ...body, version: base.version } })
        : send('post', '/api/targets', { body }),
    onSuccess: (saved) => {
      void queries.invalidateQueries({ queryKey: ['targets'] });
      void queries.invalidateQueries({ queryKey: ['groups'] });
      toast(`${saved.name} is scraped every ${saved.intervalSeconds} s from now on.`);
      onDone();
    },
  });
  const problem = [save.error, test.error].find((error): error is ApiError => error instanceof ApiError);
  const fault = (field: string) => (problem?.field === field ? problem.message : undefined);
  const there =
    save.error instanceof ApiError && save.error.status === 409 ? (save.error.now as TargetSettings | undefined) : undefined;
  const touched = () => {
    test.reset();
    save.reset();
  };
  const set = (part: Partial<typeof fields>) => {
    setFields({ ...fields, ...part });
    touched();
  };
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <Field label="URL of its metrics" error={fault('url')} help="For example http://web-1:9105/metrics">
        <Input name="url" value={fields.url} onChange={(event) => set({ url: event.target.value })} autoComplete="off" />
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Name" error={fault('name')}>
          <Input name="name" value={fields.name} onChange={(event) => set({ name: event.target.value })} autoComplete="off" />
        </Field>
        <Field label="Group" error={fault('group')} help={group ? 'What is left empty comes from there.' : undefined}>
          <Select
            name="group"
            value={fields.group}
            onChange={(event) =>
              set({ group: Number(event.target.value), interval: Number(event.target.value) ? '' : fields.interval || '15' })
            }
          >
            <option value={0}>none</option>
            {groups.data?.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="Every, seconds" error={fault('intervalSeconds')}>
          <Input
            name="intervalSeconds"
            type="number"
            min={5}
            max={3600}
            value={fields.interval}
            placeholder={group ? `${group.intervalSeconds}, from ${group.name}` : '15'}
            onChange={(event) => set({ interval: event.target.value })}
          />
        </Field>
        <Field label="Gives up after, seconds" error={fault('timeoutSeconds')}>
          <Input
            name="timeoutSeconds"
            type="number"
            min={1}
            max={60}
            value={fields.timeout}
            placeholder={group ? `${group.timeoutSeconds}, from ${group.name}` : '10'}
            onChange={(event) => set({ timeout: event.target.value })}
          />
        </Field>
      </div>
      <LabelFields
        rows={labels}
        error={fault('labels')}
        help="Laid over the labels of each of its series."
        onChange={(rows) => {
          setLabels(rows);
          touched();
        }}
      />
      <CredentialFields
        shown={target?.inherits.includes('credential') ? null : (target?.credential ?? null)}
        draft={credential}
        error={fault('credential')}
        onChange={(draft) => {
          setCredential(draft);
          touched();
        }}
      />
      {there && base && (
        <Meanwhile
          was={{ ...fieldsOf(base), labels: base.ownLabels }}
          theirs={{ ...fieldsOf(there), labels: there.ownLabels }}
          mine={{ ...fields, labels: labelBody(labels) }}
          words={{ url: 'address', interval: 'every, seconds', timeout: 'gives up after, seconds' }}
          onMerge={({ labels: taken, ...rest }) => {
            setFields(rest);
            setLabels(Object.entries(taken));
            setBase(there);
            touched();
          }}
        />
      )}
      {test.data && <TestResult test={test.data} />}
      {problem && !problem.field && !there && (
        <p role="alert" className="text-critical">
          {problem.message}
        </p>
      )}
      <div className="flex justify-end gap-2 pt-2">
        <Button onClick={onDone}>Cancel</Button>
        <Button onClick={() => test.mutate()} disabled={test.isPending || !fields.url}>
          {test.isPending ? 'Asking …' : 'Test'}
        </Button>
        <Button type="submit" look="accent" disabled={save.isPending || !fields.url || !fields.name}>
          {target ? 'Save' : 'Add'}
        </Button>
      </div>
    </form>
  );
}

function TestResult({ test }: { test: TargetTest }) {
  if (!test.ok)
    return (
      <p role="status" className="rounded-lg border border-critical/40 px-3 py-2 break-words text-critical">
        {test.message}
      </p>
    );
  return (
    <div role="status" className="rounded-lg bg-accent-soft px-3 py-2">
      <p>
        It answered in {quantity(test.seconds ?? 0, 'seconds')} with {test.series} series of {test.families} families ({test.form}
        ).
      </p>
      <p className="text-[13px]">
        {(test.readingsADay ?? 0).toLocaleString('en-US')} readings and about {quantity(test.bytesADay ?? 0, 'bytes')} a day.
      </p>
      {test.found && test.found.length > 0 && (
        <ul className="mt-2 max-h-48 overflow-y-auto border-t border-line pt-1" tabIndex={0} aria-label="What it brings">
          {test.found.map((family) => (
            <li key={family.name} className="py-0.5">
              <span className="font-mono text-[12.5px]">{family.name}</span>{' '}
              <span className="text-[13px] text-muted">
                {family.type}
                {family.unit && `, ${family.unit}`} · {family.series} series
              </span>
              {family.readings.map((reading) => (
                <span key={labelWords(reading.labels)} className="block truncate pl-4 text-[13px] text-muted">
                  {labelWords(reading.labels) || 'without labels'} <span className="text-ink">{reading.value}</span>
                </span>
              ))}
            </li>
          ))}
        </ul>
      )}
      {test.hints?.map((hint) => (
        <p key={hint} className="mt-1 text-[13px] font-medium">
          {hint}.
        </p>
      ))}
    </div>
  );
}
