import type { Target } from '../api/types';
import { quantity, span, whole } from '../ui/format';
import { lastSign } from './ticks';

export const HEALTHS = ['failing', 'overdue', 'waiting', 'paused', 'well'] as const;
export type Health = (typeof HEALTHS)[number];
type Asked = Pick<Target, 'paused' | 'status'>;

/** Overdue: nobody asked it for three of its intervals, so what its last scrape said no longer counts. */
export const health = (target: Asked): Health =>
  target.paused
    ? 'paused'
    : !target.status
      ? 'waiting'
      : !target.status.ok || target.status.verdict === 'down'
        ? 'failing'
        : target.status.overdue
          ? 'overdue'
          : 'well';

const counter = (targets: Asked[]) => (name: Health) => targets.filter((target) => health(target) === name).length;

/** How the fleet is, the worst first. */
export function fleetSentence(targets: Asked[]): string {
  const of = counter(targets);
  const asked = of('failing') + of('overdue') + of('waiting') + of('well');
  if (asked === 0) return of('paused') > 0 ? 'Every target is paused. ' : 'No targets yet. ';
  const parts = [
    of('failing') > 0 && `${whole(of('failing'))} of ${whole(asked)} targets ${of('failing') === 1 ? 'does' : 'do'} not answer. `,
    of('overdue') > 0 && `${whole(of('overdue'))} ${of('overdue') === 1 ? 'was' : 'were'} not asked for three intervals. `,
    of('waiting') > 0 && `${whole(of('waiting'))} ${of('waiting') === 1 ? 'waits' : 'wait'} to be asked for the first time. `,
  ].filter(Boolean);
  return parts.length === 0 ? 'Every target answers. ' : parts.join('');
}

/** What a group's row says beside its name and size. */
export function groupTrouble(targets: Asked[]): string {
  const of = counter(targets);
  const [failing, overdue] = [of('failing'), of('overdue')];
  return [failing > 0 && `${failing} ${failing === 1 ? 'does' : 'do'} not answer`, overdue > 0 && `${overdue} overdue`]
    .filter(Boolean)
    .join(' · ');
}

export const ageOf = (target: Asked, now: number): string =>
  target.paused
    ? 'paused'
    : target.status?.okAt
      ? `${span(Math.max(0, now - target.status.okAt))} ago`
      : target.status
        ? 'never'
        : 'not asked yet';

/** How one target is; its name goes before. */
export function targetSentence(target: Asked & Pick<Target, 'kind' | 'intervalSeconds' | 'ticks'>, now: number): string {
  const { status } = target;
  if (target.paused) return 'is paused.';
  if (!status) return 'has not been asked yet.';
  if (status.ok && status.overdue)
    return `was last asked ${span(now - status.at)} ago; the collector is behind, or stands still.`;
  if (status.ok && target.kind === 'pushed')
    return status.readings > 0 ? 'handed in what holds now.' : 'has nothing that holds now.';
  if (status.ok)
    return `answers every ${quantity(target.intervalSeconds, 'seconds')}, in ${quantity(status.seconds, 'seconds')}.`;
  const refused = lastSign(target.ticks) === '!';
  if (!status.okAt) return refused ? 'has brought nothing yet that can be taken.' : 'has never answered.';
  return `${refused ? 'has brought nothing that can be taken' : 'has not answered'} for ${span(Math.max(0, now - status.okAt))}.`;
}
