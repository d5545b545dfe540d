import type { Check } from '../../api/types';

type Steps = Extract<Check['asks'], { kind: 'http' }>['steps'];
type SentStep = Steps[number];

/** A step as the form has it: what comes in any number is written a line each. */
export type StepText = {
  name: string;
  method: NonNullable<SentStep['method']>;
  url: string;
  headers: string;
  body: string;
  follows: boolean;
  expects: string;
  patienceSeconds: number;
  takes: string;
  values: string;
};

export const emptyStep = (): StepText => ({
  name: '',
  method: 'GET',
  url: '',
  headers: '',
  body: '',
  follows: true,
  expects: '',
  patienceSeconds: 10,
  takes: '',
  values: '',
});

const lines = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '');

export const textOf = (step: SentStep): StepText => ({
  ...emptyStep(),
  name: step.name ?? '',
  method: step.method ?? 'GET',
  url: step.url,
  headers: (step.headers ?? []).map(({ name, value }) => `${name}: ${value}`).join('\n'),
  body: step.body ?? '',
  follows: step.follows ?? true,
  expects: step.expects ?? '',
  patienceSeconds: step.patienceSeconds ?? 10,
  takes: (step.takes ?? []).map(({ name, where }) => `${name} = ${where}`).join('\n'),
  values: valueLines(step.values),
});

type Value = NonNullable<SentStep['values']>[number];

export const valueLines = (values: Value[] | undefined): string =>
  (values ?? [])
    .map(({ metric, where, unit, counts }) => `${metric}${unit ? ` in ${unit}` : ''}${counts ? ' counts' : ''} = ${where}`)
    .join('\n');

export const valuesOf = (text: string) =>
  lines(text).map((line) => {
    const [head, where] = halves(line);
    const part = /^(\S+)(?:\s+in\s+(\S+))?(\s+counts)?$/.exec(head);
    return { metric: part?.[1] ?? head, unit: part?.[2] ?? '', counts: part?.[3] !== undefined, where };
  });

/**
 * `X-Token: {token}` · `token = json /token` · `tide_height in m = json /water/height` · `sold_total counts = json /sold`.
 * A line that is none of these is sent as it is, so that what is wrong with it is told by whoever knows.
 */
export function stepOf(text: StepText): SentStep {
  return {
    name: text.name.trim(),
    method: text.method,
    url: text.url.trim(),
    headers: lines(text.headers).map((line) => {
      const at = line.indexOf(':');
      return at < 0 ? { name: line, value: '' } : { name: line.slice(0, at).trim(), value: line.slice(at + 1).trim() };
    }),
    body: text.body,
    follows: text.follows,
    expects: text.expects.trim(),
    patienceSeconds: text.patienceSeconds,
    takes: lines(text.takes).map((line) => {
      const [name, where] = halves(line);
      return { name, where };
    }),
    values: valuesOf(text.values),
  };
}

function halves(line: string): [string, string] {
  const at = line.indexOf('=');
  return at < 0 ? [line, '?'] : [line.slice(0, at).trim(), line.slice(at + 1).trim() || '?'];
}

/** A name for a metric out of where it stands: `/water/height` becomes `water_height`. */
export function metricName(where: string): string {
  const words = where.toLowerCase().match(/[a-z][a-z0-9]*/g) ?? [];
  return words.slice(-2).join('_') || 'value';
}
