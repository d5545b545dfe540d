import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Controller } from 'react-hook-form';
import { toast } from 'sonner';
import { ApiError, send } from '../../api/client';
import { fleet } from '../../api/queries';
import type { Check, CheckTrial } from '../../api/types';
import { Button, Field, Input, Select, TextArea } from '../../ui/controls';
import { span } from '../../ui/format';
import { DialogForm, DurationField, FormFaults, TextField } from '../../ui/form/fields';
import { useSheetForm } from '../../ui/form/sheet-form';
import { LabelFields } from '../label-fields';
import type { Kind } from './asked';
import { MailFields } from './mail-fields';
import { type Other, OtherFields, asksOf, otherOf } from './other-fields';
import { ReplicationFields } from './replication-fields';
import { SqlFields } from './sql-fields';
import { type StepText, emptyStep, metricName, stepOf, textOf } from './check-text';
import { TrialResult } from './trial-result';

type Secret = { name: string; value: string; kept: boolean };
type Settings = Omit<Check, 'states'>;

const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'] as const;
const USUAL_SECONDS = 60;

const fieldsOf = (check: Settings | undefined) => ({
  name: check?.name ?? '',
  steps: check?.asks.kind === 'http' ? check.asks.steps.map(textOf) : [emptyStep()],
  other: otherOf(check?.asks),
  intervalSeconds: (check?.intervalSeconds ?? USUAL_SECONDS) as number | null,
  slowMs: check?.slowMs ?? (null as number | null),
  labels: check?.labels ?? {},
  places: check?.places ?? [1],
  isReference: check?.isReference ?? false,
  secrets: (check?.secrets ?? []).map((name): Secret => ({ name, value: '', kept: true })),
});
type Fields = ReturnType<typeof fieldsOf>;

const bodyOf = (kind: Kind, { name, steps, other, intervalSeconds, slowMs, labels, places, isReference, secrets }: Fields) => ({
  name: name.trim(),
  asks: kind === 'http' ? { kind, steps: steps.map(stepOf) } : asksOf(kind, other),
  intervalSeconds: intervalSeconds ?? USUAL_SECONDS,
  slowMs: slowMs || null,
  labels,
  places,
  isReference,
  secrets: secrets
    .filter((secret) => secret.name.trim() !== '')
    .map((secret) => ({ name: secret.name.trim(), ...(secret.value !== '' || !secret.kept ? { value: secret.value } : {}) })),
});

/** With what is written for this password; a new one that is empty is none. */
const withPassword = (secrets: Secret[], name: string, value: string): Secret[] => {
  const kept = secrets.some((one) => one.name === name && one.kept);
  const others = secrets.filter((one) => one.name !== name);
  return value === '' && !kept ? others : [...others, { name, value, kept }];
};

/** A fault names a step by its place; people count from one. */
function said(error: unknown): unknown {
  const part = error instanceof ApiError ? /^asks\.steps\[(\d+)]/.exec(error.field ?? '') : null;
  return part && error instanceof ApiError ? new ApiError(error.status, `Step ${Number(part[1]) + 1}: ${error.message}`) : error;
}

/** A check, with each of its steps; tried before it is saved. */
export function CheckForm({ check, kind: wanted, onDone }: { check?: Check; kind?: Kind; onDone: (saved?: Check) => void }) {
  const kind = check?.asks.kind ?? wanted ?? 'http';
  const queries = useQueryClient();
  const form = useSheetForm<Settings | undefined, Fields, Check>({
    of: check,
    fieldsOf,
    save: async (fields, of) => {
      try {
        return await (of
          ? send('put', '/api/checks/{id}', { path: { id: of.id }, body: { ...bodyOf(kind, fields), version: of.version } })
          : send('post', '/api/checks', { body: bodyOf(kind, fields) }));
      } catch (error) {
        throw said(error);
      }
    },
    onSaved: (saved) => {
      void queries.invalidateQueries({ queryKey: fleet.key });
      toast(`${saved.name} is asked every ${span(saved.intervalSeconds * 1000)} from now on.`);
      onDone(saved);
    },
  });
  const { fields } = form;
  const asked = JSON.stringify(bodyOf(kind, fields));
  const asWritten = () => ({ ...bodyOf(kind, fields), ...(check ? { id: check.id } : {}) });
  const trial = useMutation({
    mutationFn: async () => {
      return { asked, result: await send('post', '/api/checks/try', { body: asWritten() }) };
    },
    onError: (error) => toast.error((said(error) as Error).message),
  });
  const steps = fields.steps;
  const setSteps = (next: StepText[]) => form.setValue('steps', next, { shouldDirty: true });
  const setStep = (at: number, part: Partial<StepText>) =>
    setSteps(steps.map((one, i) => (i === at ? { ...one, ...part } : one)));
  const pick = (at: number) => (where: string) => {
    const before = steps[at]!.values.trimEnd();
    setStep(at, { values: `${before}${before === '' ? '' : '\n'}${metricName(where)} = ${where}` });
  };
  // What was found says nothing of another address; one more value to take from the same page is no other address.
  const isEmpty = kind === 'http' ? steps[0]?.url === '' : fields.other.host === '';
  const ofOthers = {
    value: fields.other,
    secrets: {
      isKept: (name: string) => fields.secrets.some((one) => one.name === name && one.kept),
      written: (name: string) => fields.secrets.find((one) => one.name === name)?.value ?? '',
      write: (name: string, value: string) =>
        form.setValue('secrets', withPassword(fields.secrets, name, value), { shouldDirty: true }),
    },
    error: form.fault('secrets'),
    onChange: (part: Partial<Other>) => form.setValue('other', { ...fields.other, ...part }, { shouldDirty: true }),
  };
  const isOfThis = trial.data && sameAddress(trial.data.asked, asked);
  return (
    <DialogForm form={form}>
      <div className="grid grid-cols-[1fr_9rem_9rem] gap-3 max-sm:grid-cols-1">
        <TextField form={form} name="name" label="Name" help="As people call it: ticket shop answers" autoComplete="off" />
        <DurationField form={form} name="intervalSeconds" label="Asked every" help="5s to 1d" />
        <Field label="Slow above" help="milliseconds; or empty" error={form.fault('slowMs')}>
          <Input
            type="number"
            min={1}
            value={fields.slowMs ?? ''}
            onChange={(event) =>
              form.setValue('slowMs', event.target.value === '' ? null : Number(event.target.value), { shouldDirty: true })
            }
          />
        </Field>
      </div>
      {kind === 'sql' && <SqlFields {...ofOthers} />}
      {kind === 'mail' && <MailFields {...ofOthers} />}
      {kind === 'replication' && (
        <ReplicationFields {...ofOthers} find={() => send('post', '/api/checks/partners', { body: asWritten() })} />
      )}
      {kind !== 'http' && kind !== 'sql' && kind !== 'mail' && kind !== 'replication' && (
        <OtherFields kind={kind} value={fields.other} onChange={ofOthers.onChange} />
      )}
      {kind === 'http' && (
        <>
          {steps.map((step, at) => (
            <StepFields
              key={at}
              step={step}
              at={at}
              of={steps.length}
              onChange={(part) => setStep(at, part)}
              onRemove={() => setSteps(steps.filter((_, i) => i !== at))}
            />
          ))}
          <button type="button" className="text-muted hover:text-ink" onClick={() => setSteps([...steps, emptyStep()])}>
            + another step
          </button>
          <SecretFields
            value={fields.secrets}
            error={form.fault('secrets')}
            onChange={(secrets) => form.setValue('secrets', secrets, { shouldDirty: true })}
          />
        </>
      )}
      <Controller
        control={form.control}
        name="labels"
        render={({ field }) => (
          <LabelFields
            value={field.value}
            offered={check ? [] : ['service']}
            error={form.fault('labels')}
            help="They tie it to the inside of the same service."
            onChange={field.onChange}
          />
        )}
      />
      <Places
        value={fields.places}
        isReference={fields.isReference}
        error={form.fault('places')}
        onChange={(places) => form.setValue('places', places, { shouldDirty: true })}
        onReference={(isReference) => form.setValue('isReference', isReference, { shouldDirty: true })}
      />
      <FormFaults
        form={form}
        words={{ intervalSeconds: 'asked every, seconds', slowMs: 'slow above, milliseconds' }}
        secret="secrets"
      />
      {trial.data && isOfThis && (
        <TrialResult
          trial={trial.data.result satisfies CheckTrial}
          onPick={pick(Math.max(0, trial.data.result.steps.length - 1))}
        />
      )}
      <div className="flex justify-end gap-2 pt-2">
        <Button onClick={() => onDone()}>Cancel</Button>
        <Button onClick={() => trial.mutate()} disabled={trial.isPending || isEmpty}>
          {trial.isPending ? 'Asking …' : 'Try'}
        </Button>
        <Button
          type="submit"
          look="accent"
          disabled={form.formState.isSubmitting || fields.name === '' || isEmpty || fields.places.length === 0}
        >
          {check ? 'Save' : 'Add'}
        </Button>
      </div>
    </DialogForm>
  );
}

type PlacesProps = {
  value: number[];
  isReference: boolean;
  error: string | undefined;
  onChange: (places: number[]) => void;
  onReference: (isReference: boolean) => void;
};

/** Where it is asked from; several places tell an outage from a bad line. */
function Places({ value, isReference, error, onChange, onReference }: PlacesProps) {
  const known = useQuery(fleet.places()).data?.places ?? [];
  const box = 'inline-flex items-center gap-1.5';
  return (
    <fieldset className="space-y-1">
      <legend className="font-medium">Asked from</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {known.map((place) => (
          <label key={place.id} className={box}>
            <input
              type="checkbox"
              checked={value.includes(place.id)}
              onChange={(event) => onChange(event.target.checked ? [...value, place.id] : value.filter((id) => id !== place.id))}
            />
            {place.name}
          </label>
        ))}
      </div>
      {error && (
        <p role="alert" className="text-[13px] text-critical">
          {error}
        </p>
      )}
      <label className={box}>
        <input type="checkbox" checked={isReference} onChange={(event) => onReference(event.target.checked)} />
        <span>
          Always up <span className="text-[13px] text-muted">where nothing of the kind answers, that place is cut off</span>
        </span>
      </label>
    </fieldset>
  );
}

function sameAddress(one: string, other: string): boolean {
  const address = (body: string) => {
    const { asks } = JSON.parse(body) as ReturnType<typeof bodyOf>;
    return asks.kind === 'http' ? asks.steps.map(({ url, method, body: sent }) => [url, method, sent]) : asks;
  };
  return JSON.stringify(address(one)) === JSON.stringify(address(other));
}

type StepProps = {
  step: StepText;
  at: number;
  of: number;
  onChange: (part: Partial<StepText>) => void;
  onRemove: () => void;
};

function StepFields({ step, at, of, onChange, onRemove }: StepProps) {
  const [more, setMore] = useState(step.headers !== '' || step.body !== '' || step.takes !== '' || step.method !== 'GET');
  const name = of > 1 ? `Step ${at + 1}` : 'What is asked';
  return (
    <fieldset className="space-y-2 rounded-lg border border-line p-3">
      <legend className="px-1 font-medium">{name}</legend>
      <div className="grid grid-cols-[6.5rem_1fr] gap-2">
        <Select
          aria-label={`Method of ${name}`}
          value={step.method}
          onChange={(event) => onChange({ method: event.target.value as StepText['method'] })}
        >
          {METHODS.map((method) => (
            <option key={method}>{method}</option>
          ))}
        </Select>
        <Input
          aria-label={`Address of ${name}`}
          placeholder="http://web-1:9105/shop/"
          value={step.url}
          autoComplete="off"
          onChange={(event) => onChange({ url: event.target.value })}
        />
      </div>
      <Field
        label="Expected"
        help={
          <>
            such as <code>{'"Book now" and not "sold out" and json /queue/depth < 100'}</code>; empty: a status of success
          </>
        }
      >
        <Input
          className="font-mono"
          value={step.expects}
          spellCheck={false}
          onChange={(event) => onChange({ expects: event.target.value })}
        />
      </Field>
      <Lines
        label="Numbers to keep"
        help="a line each: tide_height in m = json /water/height. Try it, and click them."
        value={step.values}
        onChange={(values) => onChange({ values })}
      />
      {more ? (
        <>
          {of > 1 && (
            <Field label="Called">
              <Input value={step.name} onChange={(event) => onChange({ name: event.target.value })} />
            </Field>
          )}
          <Lines
            label="Headers"
            help="a line each: X-Token: {token}"
            value={step.headers}
            onChange={(headers) => onChange({ headers })}
          />
          <Lines
            label="Body"
            help="{name} stands for a secret, or for what was taken before"
            value={step.body}
            onChange={(body) => onChange({ body })}
          />
          <Lines
            label="Taken for later steps"
            help="a line each: token = json /token, or next = header location"
            value={step.takes}
            onChange={(takes) => onChange({ takes })}
          />
          <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
            <label className="flex items-center gap-2">
              <input type="checkbox" checked={step.follows} onChange={(event) => onChange({ follows: event.target.checked })} />
              goes where it is sent on to
            </label>
            <span className="flex items-center gap-2">
              gives up after
              <Input
                type="number"
                aria-label={`Seconds after which ${name} is given up`}
                min={0.1}
                max={60}
                step="any"
                className="max-w-20"
                value={step.patienceSeconds}
                onChange={(event) => onChange({ patienceSeconds: Number(event.target.value) })}
              />
              s
            </span>
          </div>
        </>
      ) : (
        <button type="button" className="text-muted hover:text-ink" onClick={() => setMore(true)}>
          + headers, body, redirects, patience
        </button>
      )}
      {of > 1 && (
        <button type="button" className="ml-4 text-muted hover:text-ink" onClick={onRemove}>
          Take this step away
        </button>
      )}
    </fieldset>
  );
}

function Lines({
  label,
  help,
  value,
  onChange,
}: {
  label: string;
  help: string;
  value: string;
  onChange: (text: string) => void;
}) {
  return (
    <Field label={label} help={help}>
      <TextArea
        className="font-mono text-[12.5px]"
        rows={Math.min(8, Math.max(1, value.split('\n').length))}
        value={value}
        spellCheck={false}
        onChange={(event) => onChange(event.target.value)}
      />
    </Field>
  );
}

function SecretFields({ value, error, onChange }: { value: Secret[]; error?: string; onChange: (secrets: Secret[]) => void }) {
  const set = (at: number, part: Partial<Secret>) => onChange(value.map((one, i) => (i === at ? { ...one, ...part } : one)));
  return (
    <fieldset>
      <legend className="mb-1 font-medium">Secrets</legend>
      <div className="space-y-1.5">
        {value.map((secret, at) => (
          <div key={at} className="grid grid-cols-[1fr_1.4fr_auto] gap-2">
            <Input
              aria-label={`Name of secret ${at + 1}`}
              value={secret.name}
              readOnly={secret.kept}
              placeholder="password"
              onChange={(event) => set(at, { name: event.target.value })}
            />
            <Input
              aria-label={`Secret ${secret.name || at + 1}`}
              type="password"
              autoComplete="new-password"
              placeholder={secret.kept ? 'kept as it is' : ''}
              value={secret.value}
              onChange={(event) => set(at, { value: event.target.value })}
            />
            <Button
              look="quiet"
              aria-label={`Take secret ${secret.name || at + 1} away`}
              onClick={() => onChange(value.filter((_, i) => i !== at))}
            >
              ×
            </Button>
          </div>
        ))}
      </div>
      <button
        type="button"
        className="mt-1 text-muted hover:text-ink"
        onClick={() => onChange([...value, { name: '', value: '', kept: false }])}
      >
        + a secret, filled in as {'{name}'} and shown to nobody
      </button>
      {error && (
        <p role="alert" className="text-critical">
          {error}
        </p>
      )}
    </fieldset>
  );
}
