import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useParams, useSearch } from '@tanstack/react-router';
import { useState } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { metrics as metricsAsked, rules as asked } from '../api/queries';
import type { Draft, FormulaReading, Rule, RuleStart } from '../api/types';
import { FormulaInput } from '../metrics/formula-input';
import { metricOf } from '../metrics/names';
import { Answered } from '../ui/answered';
import { Button, Field, Sheet, TextArea } from '../ui/controls';
import { dayClock, many } from '../ui/format';
import { FormFaults, TextField } from '../ui/form/fields';
import { LeaveGuard } from '../ui/form/leave-guard';
import { useSheetForm } from '../ui/form/sheet-form';
import { PageHead } from '../ui/page-head';
import { useMay, useZone } from '../ui/session';
import { useFromHere } from '../ui/use-from-here';
import { useSettled } from '../ui/use-settled';
import { BaselineAdvice } from './baseline-advice';
import { MessageSheet } from './message-sheet';
import { OnsetStrip } from './onset-strip';
import { OwnWords } from './own-words';
import { changedWords } from './changed-words';
import { limitedOf } from './conditions/kinds';
import { byGravity } from './conditions/limits';
import { ReplaySheet, spanWords } from './replay-sheet';
import { RevisionsSheet } from './revisions-sheet';
import { ServiceDialog } from './service-dialog';
import { SweepSheet } from './sweep-sheet';
import { keepNew } from './new-draft';
import { NEW_RULE, type RuleDraft, draftIn, draftOf, fieldsOf, replayedOf, startOf, withLimit } from './rule-fields';
import { RuleStarts } from './rule-starts';
import { Starters } from './starters';
import { type KeptDraft, useKeptDraft } from './use-kept-draft';
import { RuleSentence } from './sentence';
import { sayFailure } from '../ui/say-failure';

const SETTLED_MS = 250;
const MESSAGE_SETTLED_MS = 1_000;
/** Many settings are tried over a fortnight at most. */
const SWEPT_HOURS = 336;
/** What is chosen where a longer one was stopped. */
const WEEK_HOURS = 168;
const DAY_HOURS = 24;

export function RulePage() {
  const { id } = useParams({ from: '/signed-in/rules/$id' });
  const { draft } = useSearch({ from: '/signed-in/rules/$id' });
  if (id !== 'new') return <SavedRule key={id} id={Number(id)} />;
  return draft === undefined ? <NewRule /> : <DraftedRule key={draft} id={draft} />;
}

function SavedRule({ id }: { id: number }) {
  const saved = useQuery({ ...asked.one(id), refetchOnWindowFocus: false, staleTime: Infinity });
  const draft = useQuery(asked.draft(id));
  return (
    <Answered of={saved} what="this rule" className="py-10">
      {(rule) => (
        <Answered of={draft} what="the draft of this rule" className="py-10">
          {(kept) => <Editor saved={rule} draft={kept} />}
        </Answered>
      )}
    </Answered>
  );
}

function NewRule() {
  const { formula = '', limit = 1 } = useSearch({ from: '/signed-in/rules/$id' });
  const [start] = useState(() => startOf(formula, limit, nameOf(metricOf(formula))));
  return <Editor start={start} draft={null} />;
}

/** A rule that is not there yet, as somebody left it. */
function DraftedRule({ id }: { id: number }) {
  const draft = useQuery(asked.newDraft(id));
  return (
    <Answered of={draft} what="this draft" className="py-10">
      {(kept) => <Editor start={NEW_RULE} draft={kept} />}
    </Answered>
  );
}

type Props = { draft: Draft | null } & ({ saved: Rule; start?: undefined } | { saved?: undefined; start: RuleDraft });

/** A rule is a sentence; beside it stands what it would have raised over the last week, as it changes. */
function Editor({ saved, start, draft }: Props) {
  const zone = useZone();
  const mayWrite = useMay()('write rules');
  const navigate = useNavigate();
  const go = useFromHere();
  const queries = useQueryClient();
  const [hours, setHours] = useState(168);
  const [asks, setAsks] = useState(false);
  const [reason, setReason] = useState('');
  const begin = draft && mayWrite ? draftIn(draft) : undefined;
  const form = useSheetForm<Rule | undefined, RuleDraft, Rule>({
    of: saved,
    fieldsOf: (rule) => (rule ? draftOf(rule) : (start ?? NEW_RULE)),
    begin,
    save: (written, of) =>
      of
        ? send('put', '/api/rules/{id}', {
            path: { id: of.id },
            body: { ...fieldsOf(written), reason: reason.trim(), version: of.version, overFile: of.file !== null },
          })
        : send('post', '/api/rules', { body: fieldsOf(written) }),
    baseOf: (kept) => kept,
    onSaved: (kept) => {
      setReason('');
      if (saved) keeping.isDone();
      else void keeping.throwAway();
      queries.setQueryData(asked.one(kept.id).queryKey, kept);
      queries.setQueryData(asked.draft(kept.id).queryKey, null);
      void queries.invalidateQueries({ queryKey: asked.all().queryKey });
      void queries.invalidateQueries({ queryKey: asked.newDrafts().queryKey });
      void queries.invalidateQueries({ queryKey: asked.revisions(kept.id).queryKey });
      toast(saved ? 'Changed. The new sentence is in service.' : 'In service.');
      go({ to: '/rules/$id', params: { id: String(kept.id) }, search: {}, replace: true, ignoreBlocker: true });
    },
  });
  const rule = form.fields;
  const change = (part: Partial<RuleDraft>) => {
    for (const [field, value] of Object.entries(part)) form.setValue(field as keyof RuleDraft, value, { shouldDirty: true });
  };
  const keeping = useKeptDraft(saved?.id ?? null, rule, mayWrite && form.changed && !form.formState.isSubmitting, draft);
  const settled = useSettled(replayedOf(rule), SETTLED_MS, replayedOf(begin ?? rule));
  const messaged = useSettled(fieldsOf(rule).definition, MESSAGE_SETTLED_MS);
  const isAsked = settled.formula.trim() !== '';
  const isChanged = saved !== undefined && form.changed;
  const said = useQuery({ ...metricsAsked.said(settled.formula), enabled: isAsked });
  const replay = useQuery({ ...asked.replay(settled, hours, isChanged ? saved.id : undefined), enabled: isAsked });

  const unit = replay.data?.unit ?? form.of?.unit ?? '';
  const fault = replay.error instanceof ApiError ? replay.error : null;
  const faults = faultsOf(form, fault);
  const isNew = form.of === undefined;
  const changes = changedWords(fieldsOf(form.start).definition, fieldsOf(rule).definition, unit);
  const throwAway = () => {
    const left = rule;
    form.undo();
    void keeping.throwAway().then(() => queries.invalidateQueries({ queryKey: asked.all().queryKey }), sayFailure);
    toast('The draft is thrown away.', { action: { label: 'Undo', onClick: () => change(left) } });
  };

  const toDraft = (next: Draft) =>
    void navigate({ to: '/rules/$id', params: { id: 'new' }, search: { draft: next.id }, ignoreBlocker: true });
  const throwAwayNew = () => {
    const left = rule;
    const forget = () => queries.invalidateQueries({ queryKey: asked.newDrafts().queryKey });
    const back = () => void keepNew(left).then(toDraft).then(forget).catch(sayFailure);
    void keeping
      .throwAway()
      .then(() => {
        go({ to: '/rules', ignoreBlocker: true });
        toast('The draft is thrown away.', { action: { label: 'Undo', onClick: back } });
        return forget();
      })
      .catch(sayFailure);
  };

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
          {isNew ? 'draft' : form.changed ? draftWords(changes.length) : rule.enabled ? 'in service' : 'switched off'}
        </span>
        {mayWrite && form.changed && <KeptWords keeping={keeping} zone={zone} />}
        {mayWrite && (
          <div className="ml-auto flex flex-wrap gap-2">
            {form.of && (
              <Button onClick={() => void navigate({ to: '/delivery/rehearse', search: { rule: form.of!.id } })}>
                Rehearse …
              </Button>
            )}
            {form.of && <Copy rule={rule} />}
            {form.of && <Remove rule={form.of} />}
            {!isNew && (
              <Button onClick={() => change({ enabled: !rule.enabled })} aria-pressed={!rule.enabled}>
                {rule.enabled ? 'Switch off' : 'Switch on'}
              </Button>
            )}
            {!isNew && form.changed && <Button onClick={throwAway}>Undo changes</Button>}
            {isNew && keeping.kept && <Button onClick={throwAwayNew}>Throw away</Button>}
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
      {keeping.theirs && (
        <div role="alert" className="mt-2 flex flex-wrap items-center gap-3 rounded-lg border border-minor/50 bg-sheet px-3 py-2">
          <span className="min-w-0 flex-1">
            {keeping.theirs.author ?? 'Somebody'} went on with this draft at {dayClock(keeping.theirs.at, zone)}. What stands here
            is not kept.
          </span>
          <Button
            onClick={() => {
              change(draftIn(keeping.theirs!));
              keeping.goOn();
            }}
          >
            Take theirs
          </Button>
          <Button onClick={keeping.goOn}>Keep mine</Button>
        </div>
      )}
      <div className="mt-2 empty:hidden">
        <FormFaults form={form} />
      </div>
      {isNew && mayWrite && rule.formula.trim() === '' && (
        <RuleStarts
          onChoose={(chosen) => change(fieldsOfStart(startOf(chosen.formula, limitOf(chosen), nameOf(chosen.metric))))}
        />
      )}
      {isNew && mayWrite && rule.formula.trim() === '' && <Starters onOpen={(definition) => change(definition)} />}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_minmax(0,1.65fr)] items-start gap-4 max-lg:grid-cols-1">
        <div className="space-y-3">
          <Sheet label="The rule" className="p-4">
            <RuleSentence
              rule={rule}
              said={isAsked ? (said.data?.said ?? null) : null}
              unit={unit}
              faults={faults}
              change={change}
              locked={!mayWrite}
            />
            {rule.condition.kind === 'departure' && isAsked && !fault && (
              <BaselineAdvice
                formula={settled.formula}
                condition={rule.condition}
                waits={replay.isFetching}
                onTake={mayWrite ? (condition) => change({ condition }) : undefined}
              />
            )}
            <Field label="Formula" error={faults['formula']} className="mt-3 border-t border-line pt-3">
              <FormulaInput
                label="Formula"
                lines={3}
                value={rule.formula}
                invalid={faults['formula'] !== undefined}
                readOnly={!mayWrite}
                onChange={(formula) => change({ formula })}
              />
            </Field>
            {isAsked && said.data && <FormulaNotes reading={said.data} condition={rule.condition} />}
          </Sheet>
          {replay.data && <OnsetStrip rule={rule} timing={replay.data.timing} series={replay.data.series} />}
          <Sheet label="About the rule" className="space-y-3 p-4">
            <TextField
              form={form}
              name="name"
              label="Name"
              help="A noun phrase: it begins the incident's title."
              maxLength={120}
              readOnly={!mayWrite}
            />
            <Field
              label="Runbook"
              error={faults['runbook']}
              help="What to do, as words or as a web address. It goes with every message."
            >
              <TextArea
                rows={rule.runbook.includes('\n') ? 6 : 2}
                readOnly={!mayWrite}
                {...form.register('runbook')}
                className="resize-y"
              />
            </Field>
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
            <OwnWords rule={rule} readOnly={!mayWrite} fault={faults['words']} onChange={(words) => change({ words })} />
            {form.of?.file && (
              <p className="text-[13px] text-muted">
                It comes from <span className="font-mono break-all">{form.of.file}</span>.
              </p>
            )}
          </Sheet>
          {isAsked && !fault && <MessageSheet definition={messaged} waits={replay.isFetching} />}
          {form.of && <RevisionsSheet rule={form.of} onBack={mayWrite ? (definition) => change(definition) : undefined} />}
        </div>
        <div className="min-w-0">
          <ReplaySheet
            rule={rule}
            id={form.of?.id ?? null}
            replay={replay}
            fault={fault}
            isAsked={isAsked}
            hours={hours}
            onHours={setHours}
            onStop={() => {
              void queries.cancelQueries({ queryKey: ['rules', 'replay'] });
              setHours(hours > WEEK_HOURS ? WEEK_HOURS : DAY_HOURS);
            }}
            onLimit={mayWrite ? (value) => change({ condition: withLimit(form.getValues('condition'), value) }) : undefined}
            onTake={mayWrite ? ({ condition, holdSeconds }) => change({ condition, holdSeconds }) : undefined}
            onClearHold={mayWrite ? (clearHoldSeconds) => change({ clearHoldSeconds }) : undefined}
          />
          {isAsked && !fault && (
            <SweepSheet
              key={rule.condition.kind}
              definition={settled}
              hours={Math.min(hours, SWEPT_HOURS)}
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
        changes={[...changes, ...(rule.enabled === form.start.enabled ? [] : [rule.enabled ? 'switched on' : 'switched off'])]}
        differences={replay.data?.differences ?? null}
        span={spanWords(hours)}
        file={form.of?.file ?? null}
        onClose={() => setAsks(false)}
        reason={reason}
        onReason={setReason}
        onConfirm={() => {
          setAsks(false);
          form.submit();
        }}
      />
      <LeaveGuard when={mayWrite && form.changed && (keeping.isBehind || keeping.theirs !== null)} />
    </>
  );
}

const nameOf = (metric: string) => metric.replaceAll('_', ' ').replace(/^./, (letter) => letter.toUpperCase());
/** A little above what is usual. */
const limitOf = ({ usualTo }: RuleStart) => Number(((usualTo ?? 1) * 1.2 || 1).toPrecision(2));
const fieldsOfStart = ({ name, formula, condition }: RuleDraft): Partial<RuleDraft> => ({ name, formula, condition });
const draftWords = (changes: number) => `draft, differs from live in ${many(changes, 'place')}`;

function KeptWords({ keeping, zone }: { keeping: KeptDraft; zone: string }) {
  const { kept, fault, isBehind, theirs } = keeping;
  if (theirs) return null;
  if (fault) return <span className="text-[13px] text-critical">not kept: {fault}</span>;
  if (isBehind || !kept) return <span className="text-[13px] text-muted">keeping …</span>;
  return (
    <span className="text-[13px] text-muted">
      kept {dayClock(kept.at, zone)}
      {kept.author && `, ${kept.author}`}
    </span>
  );
}

/** What is no fault and hardly meant: labels that no series has, a limit that can never be passed. */
function FormulaNotes({ reading, condition }: { reading: FormulaReading; condition: RuleDraft['condition'] }) {
  const notes = [...reading.notes];
  if (reading.truth && condition.kind === 'threshold') {
    const limit = byGravity(condition.limits)[0]?.limit ?? 0;
    const never = condition.side === 'above' ? limit >= 1 : condition.side === 'below' && limit <= 0;
    if (never)
      notes.push(
        `This formula is 1 or 0, so ${condition.side} ${limit} is never passed. ${condition.side === 'above' ? 'Above 0' : 'Below 1'} is what holds.`,
      );
  }
  if (notes.length === 0) return null;
  return (
    <ul role="status" className="mt-2 space-y-1 text-[13px] text-minor">
      {notes.map((note) => (
        <li key={note}>{note}</li>
      ))}
    </ul>
  );
}

/** The same again, as a rule that is not there yet. */
function Copy({ rule }: { rule: RuleDraft }) {
  const go = useFromHere();
  const copy = useMutation({
    mutationFn: () => keepNew({ ...rule, name: `${rule.name}, copied`.slice(0, 120) }),
    onSuccess: (draft) => go({ to: '/rules/$id', params: { id: 'new' }, search: { draft: draft.id }, ignoreBlocker: true }),
    onError: sayFailure,
  });
  return (
    <Button onClick={() => copy.mutate()} disabled={copy.isPending}>
      Copy
    </Button>
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
  const go = useFromHere();
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
      go({ to: '/rules', ignoreBlocker: true });
    },
    onError: sayFailure,
  });
  return (
    <Button onClick={() => remove.mutate()} disabled={remove.isPending}>
      Remove
    </Button>
  );
}
