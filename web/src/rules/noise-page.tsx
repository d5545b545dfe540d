import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useSearch } from '@tanstack/react-router';
import type { ReactNode } from 'react';
import { toast } from 'sonner';
import { ApiError, send } from '../api/client';
import { rules as asked } from '../api/queries';
import type { Noise, Rule, RuleDefinition, SpokenRule } from '../api/types';
import { Answered } from '../ui/answered';
import { Button, Sheet, labelWords } from '../ui/controls';
import { Spelt, dayClock, many, quantity, span } from '../ui/format';
import { PageHead } from '../ui/page-head';
import { useMay, useZone } from '../ui/session';
import { sayFailure } from '../ui/say-failure';
import { NoiseMap, isNoisy } from './noise-map';
import { RulesTabs } from './rules-tabs';

const PROPOSAL_HOURS = 336;

/** Which rules earn that they speak, and what would make the others worth it. */
export function NoisePage() {
  const noise = useQuery({ ...asked.noise(), refetchInterval: 30_000 });
  return (
    <>
      <RulesTabs />
      <Answered of={noise} what="how the rules did" className="py-10">
        {(data) => <Found data={data} />}
      </Answered>
    </>
  );
}

function Found({ data }: { data: Noise }) {
  const navigate = useNavigate();
  const { chosen } = useSearch({ from: '/signed-in/rules/noise' });
  const noisy = data.spoke.filter(isNoisy);
  const shown = data.spoke.find((rule) => rule.id === chosen) ?? noisy[0] ?? data.spoke[0];
  const choose = (id: number) => void navigate({ to: '/rules/noise', search: { chosen: id }, replace: true });
  const head = headWords(data, noisy);
  return (
    <>
      <div className="mt-3">
        <PageHead title="Noise" means={head.join(' ')}>
          {head[0]} <span className="font-normal text-muted">{head[1]}</span>
        </PageHead>
      </div>
      <div className="mt-3 grid grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)] items-start gap-4 max-lg:grid-cols-1">
        <Sheet label="Which rules earn that they speak" className="p-4">
          <h2>
            Which rules earn that they speak{' '}
            <span className="font-normal text-muted">
              {data.marks === 0
                ? 'nobody has marked an alert in 30 d'
                : `${many(data.marks, 'mark')} by ${many(data.people, 'person', 'people')}, last 30 d`}
            </span>
          </h2>
          {data.spoke.length === 0 ? (
            <p className="mt-2 text-muted">No rule has raised anything in 30 days.</p>
          ) : (
            <NoiseMap rules={data.spoke} chosen={shown?.id ?? null} onChoose={choose} />
          )}
        </Sheet>
        {shown && <Proposed key={shown.id} rule={shown} />}
      </div>
      <div className="mt-4 grid grid-cols-3 items-start gap-4 max-lg:grid-cols-1">
        <Part title="Never spoke in 30 days" empty="Each rule has raised something, or is younger than a week.">
          {data.silent.map((rule) => (
            <Line key={rule.id} id={rule.id} name={rule.name}>
              {rule.farthest === null
                ? rule.words
                : `${rule.words.startsWith('below') ? 'at least' : 'at most'} ${quantity(rule.farthest, rule.unit)}, ${rule.words}`}
            </Line>
          ))}
        </Part>
        <Part title="Come and go" empty="No alert came and went more than three times.">
          {data.comeAndGo.map((one) => (
            <ComesAndGoes key={`${one.id}-${one.from}-${labelWords(one.labels)}`} of={one} />
          ))}
        </Part>
        <Part title="Nobody knows what to do" empty="Each rule has a runbook and an owner.">
          {data.unknown.map((rule) => (
            <Line key={rule.id} id={rule.id} name={rule.name}>
              {[!rule.runbook && 'no runbook', !rule.owner && 'no owner'].filter(Boolean).join(', ')}
            </Line>
          ))}
        </Part>
        {data.always.length > 0 && (
          <Part title="Raised for days" empty="">
            {data.always.map((rule) => (
              <Line key={`${rule.id}-${labelWords(rule.labels)}`} id={rule.id} name={rule.name}>
                <Since at={rule.since} /> {labelWords(rule.labels, ['kind', 'service', 'target', 'state'])}
              </Line>
            ))}
          </Part>
        )}
      </div>
    </>
  );
}

/** `Two rules opened 16 incidents that were mostly not worth it.` */
function headWords(data: Noise, noisy: SpokenRule[]): [string, string] {
  const incidents = noisy.reduce((sum, rule) => sum + rule.incidents, 0);
  const unmarked = data.spoke.filter((rule) => rule.useful + rule.noise === 0).length;
  const rest =
    unmarked === 0
      ? 'Of each that spoke it is said what it was worth.'
      : `Of ${many(unmarked, 'rule')} nobody has said yet what it is worth.`;
  if (noisy.length === 0) return ['No rule is known to call people for nothing.', rest];
  const verb = noisy.length === 1 ? 'rule calls' : 'rules call';
  return [`${Spelt(noisy.length)} ${verb} people for nothing: ${many(incidents, 'incident')} in 30 days.`, rest];
}

function Since({ at }: { at: number }) {
  return <>since {dayClock(at, useZone())}</>;
}

function Part({ title, empty, children }: { title: string; empty: string; children: ReactNode[] }) {
  return (
    <Sheet label={title} className="p-4">
      <h2 className="mb-1">{title}</h2>
      {children.length === 0 ? <p className="text-muted">{empty}</p> : <ul className="divide-y divide-line">{children}</ul>}
    </Sheet>
  );
}

function Line({ id, name, children }: { id: number; name: string; children: ReactNode }) {
  return (
    <li className="flex flex-wrap items-baseline justify-between gap-x-3 py-1.5">
      <Link to="/rules/$id" params={{ id: String(id) }} search={{}} className="hover:underline">
        {name}
      </Link>
      <span className="text-[13px] text-muted">{children}</span>
    </li>
  );
}

function ComesAndGoes({ of }: { of: Noise['comeAndGo'][number] }) {
  const zone = useZone();
  const open = useOpenDraft();
  const mayWrite = useMay()('write rules');
  const rule = useQuery(asked.one(of.id));
  return (
    <li className="py-1.5">
      <div className="flex flex-wrap items-baseline justify-between gap-x-3">
        <span>
          {of.name} {labelWords(of.labels, ['kind', 'service', 'target', 'state'])}
        </span>
        <span className="text-[13px] text-muted">
          {of.times} times in {span(of.to - of.from)}, {dayClock(of.from, zone)}
        </span>
      </div>
      <p className="mt-0.5 text-[13px]">
        Clearing after {span(of.clearHoldSeconds * 1000)} in place of {span(of.wasClearHoldSeconds * 1000)} would have made it
        one.
      </p>
      {mayWrite && rule.data && (
        <Button
          className="mt-1"
          disabled={open.isPending}
          onClick={() =>
            open.mutate({ rule: rule.data, definition: { ...rule.data.definition, clearHoldSeconds: of.clearHoldSeconds } })
          }
        >
          Open as a draft
        </Button>
      )}
    </li>
  );
}

/** What would keep the useful alerts of a rule with the fewest others. */
function Proposed({ rule }: { rule: SpokenRule }) {
  const mayWrite = useMay()('write rules');
  const open = useOpenDraft();
  const saved = useQuery(asked.one(rule.id));
  const marks = useQuery(asked.marks(rule.id));
  const said = (marks.data ?? []).map((mark) => [mark.raisedAt, mark.worth]);
  const proposal = useQuery({
    ...asked.proposal(rule.id, saved.data?.definition as RuleDefinition, PROPOSAL_HOURS, said),
    enabled: saved.data !== undefined && marks.data !== undefined,
  });
  const zone = useZone();
  const better = proposal.data?.definition ?? null;
  return (
    <Sheet label="The chosen rule" className="p-4">
      <h2>
        {rule.name}{' '}
        <span className="font-normal text-muted">
          {many(rule.alerts, 'alert')}, {many(rule.incidents, 'incident')} in 30 d
        </span>
      </h2>
      {proposal.error ? (
        <p className="mt-2 text-critical">No proposal: {proposal.error.message}</p>
      ) : (
        <p className="mt-2">{proposal.data?.words ?? 'Trying settings …'}</p>
      )}
      {(marks.data ?? []).length > 0 && (
        <ul className="mt-3 divide-y divide-line border-y border-line">
          {marks.data!.slice(0, 8).map((mark) => (
            <li key={`${mark.raisedAt}-${labelWords(mark.labels)}`} className="flex flex-wrap gap-x-4 py-1.5 text-[13px]">
              <span className="w-32">{dayClock(mark.raisedAt, zone)}</span>
              <span className="w-20 text-muted">
                {mark.clearedAt === null ? 'raised still' : span(mark.clearedAt - mark.raisedAt)}
              </span>
              <span>
                {mark.worth === 'useful' ? <strong>useful</strong> : 'noise'}
                {mark.author && `, ${mark.author}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      <div className="mt-3 flex flex-wrap gap-2">
        {mayWrite && better && saved.data && (
          <Button look="accent" disabled={open.isPending} onClick={() => open.mutate({ rule: saved.data, definition: better })}>
            Open as a draft with its replay
          </Button>
        )}
        <Link
          to="/rules/$id"
          params={{ id: String(rule.id) }}
          search={{}}
          className="rounded-lg border border-line px-3.5 py-1.5 font-semibold hover:bg-future"
        >
          {said.length === 0 ? 'Mark its alerts' : 'Open the rule'}
        </Link>
      </div>
    </Sheet>
  );
}

/** Leaves a draft of a rule and opens it; one that is there already is opened as it is. */
function useOpenDraft() {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: ({ rule, definition }: { rule: Rule; definition: RuleDefinition }) =>
      send('post', '/api/rule-drafts', {
        body: { definition: definition as unknown as Record<string, never>, enabled: rule.enabled, rule: rule.id },
      }),
    onSuccess: (draft) => void navigate({ to: '/rules/$id', params: { id: String(draft.rule) }, search: {} }),
    onError: (error, { rule }) => {
      if (!(error instanceof ApiError) || error.status !== 409) {
        sayFailure(error);
        return;
      }
      toast('There is a draft of this rule already; this is it.');
      void navigate({ to: '/rules/$id', params: { id: String(rule.id) }, search: {} });
    },
  });
}
