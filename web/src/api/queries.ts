import { keepPreviousData, queryOptions } from '@tanstack/react-query';
import { read, send } from './client';
import { replay } from './long-replay';
import { learnExactly } from './server-clock';
import type { RuleDefinition, Severity, Sweep, TemplatePreviewFields, UseFields } from './types';

/**
 * Every question the pages ask, by domain, each under a key of its own. `watch.key` is the key of all of a domain, to ask
 * anew after a change: `queries.invalidateQueries({ queryKey: fleet.key })`.
 */
export const session = {
  key: ['session'],
  browsers: () =>
    queryOptions({ queryKey: ['session', 'browsers'], queryFn: ({ signal }) => read('/api/session/browsers', { signal }) }),
  current: () =>
    queryOptions({
      queryKey: ['session'],
      queryFn: ({ signal }) => read('/api/session', { signal }),
      staleTime: Infinity,
      refetchOnWindowFocus: false,
    }),
};

export const watch = {
  key: ['watch'],
  /** What is open and what was, over so many hours back. */
  over: (back: number) =>
    queryOptions({
      queryKey: ['watch', back],
      queryFn: async ({ signal }) => {
        const seen = await read('/api/watch', { query: { back, ahead: back > 24 ? 24 : 4 }, signal });
        learnExactly(seen.now);
        return seen;
      },
      refetchInterval: 3_000,
      placeholderData: keepPreviousData,
    }),
  past: (asked: { words?: string; severity?: Severity; before?: number }) =>
    queryOptions({
      queryKey: ['watch', 'past', asked],
      queryFn: ({ signal }) => read('/api/incidents', { query: asked, signal }),
      placeholderData: keepPreviousData,
    }),
  incident: (id: number) =>
    queryOptions({
      queryKey: ['watch', 'incident', id],
      queryFn: ({ signal }) => read('/api/incidents/{id}', { path: { id }, signal }),
      refetchInterval: 4_000,
    }),
};

export const fleet = {
  key: ['fleet'],
  targets: () =>
    queryOptions({ queryKey: ['fleet', 'targets'], queryFn: ({ signal }) => read('/api/targets', { signal }), staleTime: 4_000 }),
  target: (id: number) =>
    queryOptions({
      queryKey: ['fleet', 'target', id],
      queryFn: ({ signal }) => read('/api/targets/{id}/page', { path: { id }, signal }),
    }),
  groups: () => queryOptions({ queryKey: ['fleet', 'groups'], queryFn: ({ signal }) => read('/api/groups', { signal }) }),
  checks: () =>
    queryOptions({ queryKey: ['fleet', 'checks'], queryFn: ({ signal }) => read('/api/checks', { signal }), staleTime: 4_000 }),
  check: (id: number) =>
    queryOptions({
      queryKey: ['fleet', 'check', id],
      queryFn: ({ signal }) => read('/api/checks/{id}', { path: { id }, signal }),
    }),
  evidence: (id: number) =>
    queryOptions({
      queryKey: ['fleet', 'evidence', id],
      queryFn: ({ signal }) => read('/api/evidence/{id}', { path: { id }, signal }),
      staleTime: Infinity,
    }),
  certificates: () =>
    queryOptions({
      queryKey: ['fleet', 'certificates'],
      queryFn: ({ signal }) => read('/api/certificates', { signal }),
      staleTime: 10_000,
    }),
  findings: () =>
    queryOptions({
      queryKey: ['fleet', 'findings'],
      queryFn: ({ signal }) => read('/api/findings', { signal }),
      staleTime: 30_000,
    }),
  recipes: () =>
    queryOptions({
      queryKey: ['fleet', 'recipes'],
      queryFn: ({ signal }) => read('/api/recipes', { signal }),
      staleTime: 30_000,
    }),
  recipe: (key: string) =>
    queryOptions({
      queryKey: ['fleet', 'recipes', key],
      queryFn: ({ signal }) => read('/api/recipes/{name}', { path: { name: key }, signal }),
      staleTime: 30_000,
    }),
  /** Its rules, their limits from the history of one target, or of all. */
  recipeRules: (key: string, target: number | null) =>
    queryOptions({
      queryKey: ['fleet', 'recipe rules', key, target],
      queryFn: ({ signal }) =>
        target === null
          ? read('/api/recipes/{name}/rules', { path: { name: key }, signal })
          : read('/api/recipes/{name}/rules/{id}', { path: { name: key, id: target }, signal }),
      staleTime: 60_000,
      refetchOnWindowFocus: false,
    }),
  places: () =>
    queryOptions({ queryKey: ['fleet', 'places'], queryFn: ({ signal }) => read('/api/places', { signal }), staleTime: 4_000 }),
  jobs: (days: number) =>
    queryOptions({
      queryKey: ['fleet', 'jobs', days],
      queryFn: ({ signal }) => read('/api/jobs', { query: { days }, signal }),
      staleTime: 4_000,
    }),
  job: (id: number) =>
    queryOptions({
      queryKey: ['fleet', 'job', id],
      queryFn: ({ signal }) => read('/api/jobs/{id}', { path: { id }, query: { days: 14 }, signal }),
    }),
  output: (run: number) =>
    queryOptions({
      queryKey: ['fleet', 'output', run],
      queryFn: ({ signal }) => read('/api/runs/{id}', { path: { id: run }, signal }),
      staleTime: Infinity,
    }),
  cost: () => queryOptions({ queryKey: ['fleet', 'cost'], queryFn: ({ signal }) => read('/api/cost', { signal }) }),
};

export const rosters = {
  key: ['rosters'],
  all: () =>
    queryOptions({
      queryKey: ['rosters', 'all'],
      queryFn: ({ signal }) => read('/api/rosters', { signal }),
      refetchInterval: 30_000,
    }),
  /** So many days of one, from a day on; undefined: from Monday of this week. */
  one: (id: number, from: string | undefined, days: number) =>
    queryOptions({
      queryKey: ['rosters', id, from, days],
      queryFn: ({ signal }) => read('/api/rosters/{id}', { path: { id }, query: { from, days }, signal }),
      refetchInterval: 30_000,
      placeholderData: keepPreviousData,
    }),
  handover: (id: number) =>
    queryOptions({
      queryKey: ['rosters', id, 'handover'],
      queryFn: ({ signal }) => read('/api/rosters/{id}/handover', { path: { id }, signal }),
    }),
  coverage: () =>
    queryOptions({
      queryKey: ['rosters', 'coverage'],
      queryFn: ({ signal }) => read('/api/coverage', { signal }),
      refetchInterval: 60_000,
    }),
  mine: () =>
    queryOptions({
      queryKey: ['rosters', 'mine'],
      queryFn: ({ signal }) => read('/api/on-call/mine', { signal }),
      refetchInterval: 30_000,
    }),
  fairness: (id: number) =>
    queryOptions({
      queryKey: ['rosters', id, 'fairness'],
      queryFn: ({ signal }) => read('/api/rosters/{id}/fairness', { path: { id }, signal }),
      staleTime: 60_000,
    }),
};

export const delivery = {
  key: ['delivery'],
  channels: () =>
    queryOptions({
      queryKey: ['delivery', 'channels'],
      queryFn: ({ signal }) => read('/api/channels', { signal }),
      refetchInterval: 5_000,
    }),
  plan: () =>
    queryOptions({
      queryKey: ['delivery', 'plan'],
      queryFn: ({ signal }) => read('/api/plan', { signal }),
      refetchInterval: 10_000,
    }),
  revisions: () =>
    queryOptions({ queryKey: ['delivery', 'revisions'], queryFn: ({ signal }) => read('/api/plan/revisions', { signal }) }),
  uses: (kind: UseFields['kind'], name: string) =>
    queryOptions({
      queryKey: ['delivery', 'uses', kind, name],
      queryFn: ({ signal }) => read('/api/plan/uses', { query: { kind, name }, signal }),
    }),
  wishes: () =>
    queryOptions({ queryKey: ['delivery', 'wishes'], queryFn: ({ signal }) => read('/api/session/wishes', { signal }) }),
  messages: (asked: { person?: number; channel?: string; before?: number }) =>
    queryOptions({
      queryKey: ['delivery', 'messages', asked],
      queryFn: ({ signal }) => read('/api/messages', { query: asked, signal }),
      refetchInterval: 10_000,
      placeholderData: keepPreviousData,
    }),
  mutes: () =>
    queryOptions({
      queryKey: ['delivery', 'mutes'],
      queryFn: ({ signal }) => read('/api/mutes', { signal }),
      refetchInterval: 15_000,
    }),
  actions: () => queryOptions({ queryKey: ['delivery', 'actions'], queryFn: ({ signal }) => read('/api/actions', { signal }) }),
  actionsAbout: (about: { incident: number } | { target: number }) =>
    queryOptions({
      queryKey: ['delivery', 'actions about', about],
      queryFn: ({ signal }) =>
        'incident' in about
          ? read('/api/incidents/{id}/actions', { path: { id: about.incident }, signal })
          : read('/api/targets/{id}/actions', { path: { id: about.target }, signal }),
    }),
  templates: () =>
    queryOptions({ queryKey: ['delivery', 'templates'], queryFn: ({ signal }) => read('/api/templates', { signal }) }),
  wordings: (way: string, team: string) =>
    queryOptions({
      queryKey: ['delivery', 'wordings', way, team],
      queryFn: ({ signal }) => read('/api/templates/revisions', { query: { way, team }, signal }),
    }),
  previewed: (of: TemplatePreviewFields) =>
    queryOptions({
      queryKey: ['delivery', 'previewed', of],
      queryFn: () => send('post', '/api/templates/preview', { body: of }),
    }),
  /** Looked at often while one is under way, now and then else. */
  rehearsals: () =>
    queryOptions({
      queryKey: ['delivery', 'rehearsals'],
      queryFn: ({ signal }) => read('/api/rehearsals', { signal }),
      refetchInterval: ({ state }) =>
        state.data?.rehearsals.some((one) => one.begunAt !== null && one.endedAt === null) ? 2_000 : 15_000,
    }),
  played: (rule: number) =>
    queryOptions({
      queryKey: ['delivery', 'played', rule],
      queryFn: ({ signal }) => read('/api/rules/{id}/rehearsal', { path: { id: rule }, signal }),
    }),
  matched: (matching: string) =>
    queryOptions({
      queryKey: ['delivery', 'matched', matching],
      queryFn: () => send('post', '/api/mutes/matched', { body: { matching } }),
    }),
  setUp: () =>
    queryOptions({ queryKey: ['delivery', 'set up'], queryFn: ({ signal }) => read('/api/channels/set-up', { signal }) }),
};

export type Reach = { from: number; to: number };
export const metrics = {
  key: ['metrics'],
  all: () =>
    queryOptions({ queryKey: ['metrics', 'all'], queryFn: ({ signal }) => read('/api/metrics', { signal }), staleTime: 30_000 }),
  labels: (metric: string) =>
    queryOptions({
      queryKey: ['metrics', 'labels', metric],
      queryFn: ({ signal }) => read('/api/metrics/labels', { query: { metric }, signal }),
      staleTime: 30_000,
    }),
  functions: () =>
    queryOptions({
      queryKey: ['metrics', 'functions'],
      queryFn: ({ signal }) => read('/api/formula/functions', { signal }),
      staleTime: Infinity,
    }),
  said: (formula: string) =>
    queryOptions({
      queryKey: ['metrics', 'said', formula],
      queryFn: ({ signal }) => read('/api/formula/said', { query: { formula }, signal }),
      placeholderData: keepPreviousData,
      staleTime: 30_000,
    }),
  /** @param span what the chart is of, as a key: a span that ends now, or two instants; `reach` says it in instants when it is asked */
  chart: (formula: string, span: unknown, points: number, reach: () => Reach, lines?: number) =>
    queryOptions({
      queryKey: ['metrics', 'chart', formula, span, points, lines],
      queryFn: ({ signal }) => read('/api/chart', { query: { formula, ...reach(), points, lines }, signal }),
      placeholderData: keepPreviousData,
    }),
  usual: (formula: string, span: unknown, points: number, reach: () => Reach) =>
    queryOptions({
      queryKey: ['metrics', 'usual', formula, span, points],
      queryFn: ({ signal }) => read('/api/chart/usual', { query: { formula, ...reach(), points }, signal }),
      staleTime: 60_000,
    }),
};

export const rules = {
  key: ['rules'],
  all: () =>
    queryOptions({ queryKey: ['rules', 'all'], queryFn: ({ signal }) => read('/api/rules', { signal }), staleTime: 5_000 }),
  one: (id: number) =>
    queryOptions({
      queryKey: ['rules', 'one', id],
      queryFn: ({ signal }) => read('/api/rules/{id}', { path: { id }, signal }),
    }),
  revisions: (id: number) =>
    queryOptions({
      queryKey: ['rules', 'revisions', id],
      queryFn: ({ signal }) => read('/api/rules/{id}/revisions', { path: { id }, signal }),
    }),
  /** Only what decides is asked with: another name is the same replay. Nobody waits for it any more: the server stops, too. */
  replay: (definition: RuleDefinition, hours: number, against?: number) =>
    queryOptions({
      queryKey: ['rules', 'replay', definition, hours, against],
      queryFn: ({ signal }) => replay({ definition, hours, against }, signal),
      placeholderData: keepPreviousData,
      refetchOnWindowFocus: false,
      staleTime: 60_000,
    }),
  draft: (id: number) =>
    queryOptions({
      queryKey: ['rules', 'draft', id],
      queryFn: ({ signal }) => read('/api/rules/{id}/draft', { path: { id }, signal }),
      refetchOnWindowFocus: false,
      staleTime: Infinity,
      gcTime: 0,
    }),
  newDraft: (id: number) =>
    queryOptions({
      queryKey: ['rules', 'new draft', id],
      queryFn: ({ signal }) => read('/api/rule-drafts/{id}', { path: { id }, signal }),
      refetchOnWindowFocus: false,
      staleTime: Infinity,
      gcTime: 0,
    }),
  newDrafts: () =>
    queryOptions({ queryKey: ['rules', 'new drafts'], queryFn: ({ signal }) => read('/api/rule-drafts', { signal }) }),
  starts: () =>
    queryOptions({
      queryKey: ['rules', 'starts'],
      queryFn: ({ signal }) => read('/api/rules/starts', { signal }),
      staleTime: 60_000,
      refetchOnWindowFocus: false,
    }),
  starters: () =>
    queryOptions({
      queryKey: ['rules', 'starters'],
      queryFn: ({ signal }) => read('/api/rules/starters', { signal }),
      staleTime: 60_000,
      refetchOnWindowFocus: false,
    }),
  noise: () =>
    queryOptions({ queryKey: ['rules', 'noise'], queryFn: ({ signal }) => read('/api/noise', { signal }), staleTime: 10_000 }),
  /** When what is raised would clear, if all stayed as it is. */
  clearing: (id: number) =>
    queryOptions({
      queryKey: ['rules', 'clearing', id],
      queryFn: ({ signal }) => read('/api/rules/{id}/clearing', { path: { id }, signal }),
      refetchInterval: 30_000,
      staleTime: 10_000,
    }),
  /** What its first message would say now. */
  message: (definition: RuleDefinition, waits: boolean) =>
    queryOptions({
      enabled: !waits,
      queryKey: ['rules', 'message', definition],
      queryFn: ({ signal }) => send('post', '/api/rules/message', { body: { definition }, signal }),
      placeholderData: keepPreviousData,
      refetchOnWindowFocus: false,
      staleTime: 30_000,
    }),
  marks: (id: number) =>
    queryOptions({
      queryKey: ['rules', 'marks', id],
      queryFn: ({ signal }) => read('/api/rules/{id}/marks', { path: { id }, signal }),
    }),
  /** @param marks how many there are: with another mark it is another question */
  proposal: (id: number, definition: RuleDefinition, hours: number, marks: unknown) =>
    queryOptions({
      queryKey: ['rules', 'proposal', id, definition, hours, marks],
      queryFn: ({ signal }) => send('post', '/api/rules/{id}/proposal', { path: { id }, body: { definition, hours }, signal }),
      refetchOnWindowFocus: false,
      staleTime: 60_000,
    }),
  /** Which baseline suits what it gives; it changes with the days, not with the minutes. */
  advice: (formula: string) =>
    queryOptions({
      queryKey: ['rules', 'advice', formula],
      queryFn: ({ signal }) => send('post', '/api/rules/advice', { body: { formula }, signal }),
      refetchOnWindowFocus: false,
      staleTime: 600_000,
    }),
  /** One setting over many values. */
  sweep: (definition: RuleDefinition, setting: Sweep['setting'], hours: number) =>
    queryOptions({
      queryKey: ['rules', 'sweep', definition, setting, hours],
      queryFn: ({ signal }) => send('post', '/api/rules/sweep', { body: { definition, setting, hours }, signal }),
      placeholderData: keepPreviousData,
      refetchOnWindowFocus: false,
      staleTime: 60_000,
    }),
};

export const people = {
  key: ['people'],
  all: () =>
    queryOptions({ queryKey: ['people', 'all'], queryFn: ({ signal }) => read('/api/people', { signal }), staleTime: 30_000 }),
  audit: (asked: { person?: number; until?: number }) =>
    queryOptions({
      queryKey: ['people', 'audit', asked],
      queryFn: ({ signal }) => read('/api/audit', { query: asked, signal }),
      refetchInterval: 10_000,
      placeholderData: keepPreviousData,
    }),
  tokens: () => queryOptions({ queryKey: ['people', 'tokens'], queryFn: ({ signal }) => read('/api/tokens', { signal }) }),
};

export const setup = {
  key: ['setup'],
  settings: () => queryOptions({ queryKey: ['setup', 'settings'], queryFn: ({ signal }) => read('/api/settings', { signal }) }),
  limits: () => queryOptions({ queryKey: ['setup', 'limits'], queryFn: ({ signal }) => read('/api/limits', { signal }) }),
  retention: (asked: { readings?: number; fiveMinutes?: number; hours?: number }) =>
    queryOptions({
      queryKey: ['setup', 'retention', asked],
      queryFn: ({ signal }) => read('/api/retention', { query: asked, signal }),
      placeholderData: keepPreviousData,
    }),
};
