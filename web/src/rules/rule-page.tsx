import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import clsx from 'clsx';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { rules as asked } from '../api/queries';
import type { Rule } from '../api/types';
import { metricOf } from '../metrics/names';
import { Answered } from '../ui/answered';
import { Button, Field, Sheet, TextArea } from '../ui/controls';
import { dayClock } from '../ui/format';
import { FormFaults, TextField } from '../ui/form/fields';
import { LeaveGuard } from '../ui/form/leave-guard';
import { useSheetForm } from '../ui/form/sheet-form';
import { PageHead } from '../ui/page-head';
import { useMay, useZone } from '../ui/session';
import { useSettled } from '../ui/use-settled';
import { BaselineAdvice } from './baseline-advice';
import { OnsetStrip } from './onset-strip';
import { changedWords } from './changed-words';
import { limitedOf } from './conditions/kinds';
import { byGravity } from './conditions/limits';
import { ReplaySheet, spanWords } from './replay-sheet';
import { RevisionsSheet } from './revisions-sheet';
import { ServiceDialog } from './service-dialog';
import { SweepSheet } from './sweep-sheet';
import { NEW_RULE, type RuleDraft, draftOf, fieldsOf, replayedOf, startOf, withLimit } from './rule-fields';
import { RuleSentence } from './sentence';
import { sayFailure } from '../ui/say-failure';

const SETTLED_MS = 250;

export function RulePage() {
  const { id } = useParams({ from: '/signed-in/rules/$id' });
  return id === 'new' ? <NewRule /> : <SavedRule key={id} id={Number(id)} />;
}

function SavedRule({ id }: { id: number }) {
  const saved = useQuery({ ...asked.one(id), refetchOnWindowFocus: false, staleTime: Infinity });
  return (
    <Answered of={saved} what="this rule" className="py-10">
      {(rule) => <Editor saved={rule} />}
    </Answered>
  );
}

function NewRule() {
  const { formula = '', limit = 1 } = useSearch({ from: '/signed-in/rules/$id' });
  const name = metricOf(formula)
    .replaceAll('_', ' ')
    .replace(/^./, (letter) => letter.toUpperCase());
  const [start] = useState(() => startOf(formula, limit, name));
  return <Editor start={start} />;
}

type Props = { saved: Rule; start?: undefined } | { saved?: undefined; start: RuleDraft };

/** A rule is a sentence; beside it stands what it would have raised over the last week, as it changes. */
function Editor({ saved, start }: Props) {
  const zone = useZone();
  const mayWrite = useMay()('write rules');
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [hours, setHours] = useState(168);
  const [asks, setAsks] = useState(false);
  const [reason, setReason] = useState('');
  const form = useSheetForm<Rule | undefined, RuleDraft, Rule>({
    of: saved,
    fieldsOf: (rule) => (rule ? draftOf(rule) : (start ?? NEW_RULE)),
    save: (draft, of) =>
      of
        ? send('put', '/api/rules/{id}', {
            path: { id: of.id },
            body: { ...fieldsOf(draft), reason: reason.trim(), version: of.version },
          })
        : send('post', '/api/rules', { body: fieldsOf(draft) }),
    baseOf: (kept) => kept,
    onSaved: (kept) => {
      setReason('');
      queries.setQueryData(asked.one(kept.id).queryKey, kept);
      void queries.invalidateQueries({ queryKey: asked.all().queryKey });
      void queries.invalidateQueries({ queryKey: asked.revisions(kept.id).queryKey });
      toast(saved ? 'Changed. The new sentence is in service.' : 'In service.');
      void navigate({ to: '/rules/$id', params: { id: String(kept.id) }, search: {}, replace: true, ignoreBlocker: true });
    },
  });
  const rule = form.fields;
  const change = (part: Partial<RuleDraft>) => {
    for (const [field, value] of Object.entries(part)) form.setValue(field as keyof RuleDraft, value, { shouldDirty: true });
  };
  const settled = useSettled(replayedOf(rule), SETTLED_MS);
  const isChanged = saved !== undefined && form.changed;
  const replay = useQuery({
    ...asked.replay(settled, hours, isChanged ? saved.id : undefined),
    enabled: settled.formula.trim() !== '',
  });

  const unit = replay.data?.unit ?? form.of?.unit ?? '';
  const fault = replay.error instanceof ApiError ? replay.error : null;
  const faults = faultsOf(form, fault);
  const isNew = form.of === undefined;

  return (
    <>
      <div className="mt-4 flex flex-wrap items-center gap-3">
        <PageHead title={isNew ? 'New rule' : rule.name}>
          <Link to="/rules" className="font-normal text-muted">
            Rules /
          </Link>{' '}
          {isNew ? 'New rule' : form.start.name}
        </PageHead>
        <span className="rounded-full border border-line bg-sheet px-3 py-0.5 text-[13px]">
          {isNew ? 'draft' : form.changed ? 'draft, differs from live' : rule.enabled ? 'in service' : 'switched off'}
        </span>
        {mayWrite && (
          <div className="ml-auto flex flex-wrap gap-2">
            {form.of && <Remove rule={form.of} />}
            {!isNew && (
              <Button onClick={() => change({ enabled: !rule.enabled })} aria-pressed={!rule.enabled}>
                {rule.enabled ? 'Switch off' : 'Switch on'}
              </Button>
            )}
            {!isNew && form.changed && <Button onClick={form.undo}>Undo changes</Button>}
            <Button
              look="accent"
              onClick={() => (isNew ? form.submit() : setAsks(true))}
              disabled={(!isNew && !form.changed) || form.formState.isSubmitting}
            >
              Put into service
            </Button>
          </div>
        )}
      </div>
      {form.of?.brokenSince && (
        <p role="alert" className="mt-2 rounded-lg border border-critical/40 bg-sheet px-3 py-2 break-words text-critical">
          Broken since {dayClock(form.of.brokenSince, zone)}: {form.of.fault} It is asked again, and nobody is told of what it
          watches until it can be evaluated.
        </p>
      )}
      <div className="mt-2 empty:hidden">
        <FormFaults form={form} />
      </div>
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_minmax(0,1.65fr)] items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-3">
          <Sheet label="The rule" className="p-4">
            <RuleSentence rule={rule} unit={unit} faults={faults} change={change} locked={!mayWrite} />
            {rule.condition.kind === 'departure' && settled.formula.trim() !== '' && !fault && (
              <BaselineAdvice
                formula={settled.formula}
                condition={rule.condition}
                waits={replay.isFetching}
                onTake={mayWrite ? (condition) => change({ condition }) : undefined}
              />
            )}
            <Field label="Formula" error={faults['formula']} className="mt-3 border-t border-line pt-3">
              <TextArea
                spellCheck={false}
                rows={3}
                readOnly={!mayWrite}
                {...form.register('formula')}
                className={clsx('resize-y font-mono text-[13px]')}
              />
            </Field>
          </Sheet>
          {replay.data && <OnsetStrip rule={rule} timing={replay.data.timing} />}
          <Sheet label="About the rule" className="space-y-3 p-4">
            <TextField
              form={form}
              name="name"
              label="Name"
              help="A noun phrase: it begins the incident's title."
              maxLength={120}
              readOnly={!mayWrite}
            />
            <TextField
              form={form}
              name="runbook"
              label="Runbook"
              help="What to do, as words or as a web address. It goes with every message."
              readOnly={!mayWrite}
            />
            <TextField
              form={form}
              name="service"
              label="Service"
              help="Groups its alerts into incidents. Empty: the label service of each series."
              readOnly={!mayWrite}
            />
            <TextField
              form={form}
              name="owner"
              label="Owner"
              help="The team whose rule it is."
              maxLength={120}
              readOnly={!mayWrite}
            />
          </Sheet>
          {form.of && <RevisionsSheet rule={form.of} onBack={mayWrite ? (definition) => change(definition) : undefined} />}
        </div>
        <div className="min-w-0">
          <ReplaySheet
            rule={rule}
            replay={replay}
            fault={fault}
            isAsked={settled.formula.trim() !== ''}
            hours={hours}
            onHours={setHours}
            onLimit={mayWrite ? (value) => change({ condition: withLimit(form.getValues('condition'), value) }) : undefined}
          />
          {settled.formula.trim() !== '' && !fault && (
            <SweepSheet
              key={rule.condition.kind}
              definition={settled}
              hours={hours}
              waits={replay.isFetching}
              at={{ limit: movable(rule.condition), hold: rule.holdSeconds }}
              onChoose={
                mayWrite
                  ? (setting, value) =>
                      change(
                        setting === 'hold'
                          ? { holdSeconds: value }
                          : { condition: withLimit(form.getValues('condition'), value) },
                      )
                  : undefined
              }
            />
          )}
        </div>
      </div>
      <ServiceDialog
        open={asks}
        changes={[
          ...changedWords(fieldsOf(form.start).definition, fieldsOf(rule).definition, unit),
          ...(rule.enabled === form.start.enabled ? [] : [rule.enabled ? 'switched on' : 'switched off']),
        ]}
        differences={replay.data?.differences ?? null}
        span={spanWords(hours)}
        onClose={() => setAsks(false)}
        reason={reason}
        onReason={setReason}
        onConfirm={() => {
          setAsks(false);
          form.submit();
        }}
      />
      <LeaveGuard when={mayWrite && form.changed} />
    </>
  );
}

/** Where the limit stands that a sweep moves; null where there is none, or it has two ends. */
function movable(condition: RuleDraft['condition']): number | null {
  const limited = limitedOf(condition);
  const isOne = limited?.side === 'above' || limited?.side === 'below';
  return limited && isOne ? (byGravity(limited.limits)[0]?.limit ?? null) : null;
}

/** Of each field what is wrong with it: told when it was kept, or already by its replay. */
function faultsOf(
  form: { fault: (field: keyof RuleDraft) => string | undefined },
  replay: ApiError | null,
): Record<string, string> {
  const told = replay?.field === undefined ? [] : [replay.field];
  const found = [...Object.keys(NEW_RULE), ...told].flatMap((field) => {
    const own = field in NEW_RULE ? form.fault(field as keyof RuleDraft) : undefined;
    const words = own ?? (replay?.field === field ? replay.message : undefined);
    return words ? [[field, words]] : [];
  });
  return Object.fromEntries(found) as Record<string, string>;
}

function Remove({ rule }: { rule: Rule }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries({ queryKey: asked.key });
  const back = async () => {
    await send('post', '/api/rules', { body: fieldsOf(draftOf(rule)) });
    await refresh();
  };
  const remove = useMutation({
    mutationFn: () => send('delete', '/api/rules/{id}', { path: { id: rule.id } }),
    onSuccess: () => {
      void refresh();
      toast(`Removed “${rule.definition.name}”.`, {
        action: { label: 'Undo', onClick: () => void back().catch(sayFailure) },
      });
      void navigate({ to: '/rules', ignoreBlocker: true });
    },
    onError: sayFailure,
  });
  return (
    <Button onClick={() => remove.mutate()} disabled={remove.isPending}>
      Remove
    </Button>
  );
}
