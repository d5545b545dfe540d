import type { ShownMessage } from '../api/types';
import { clock, dayClock, many, quantity } from '../ui/format';

/** What became of a message: `taken over there Sat 28, 03:12, 0.4 s after it was due`. */
export function outcomeWords(of: ShownMessage, now: number, zone: string): string {
  const answer = of.answer === '' ? '' : `: ${of.answer}`;
  switch (of.status) {
    case 'sent': {
      const sentAt = of.sentAt ?? of.dueAt;
      const tries = of.attempts > 1 ? `, at attempt ${of.attempts}` : '';
      return `taken over there ${dayClock(sentAt, zone)}, ${lateWords(sentAt - of.dueAt)}${tries}`;
    }
    case 'sending':
      return 'under way';
    case 'failed':
      return `given up after ${many(of.attempts, 'attempt')}${answer}`;
    case 'dropped':
      return `not sent${answer}`;
    case 'planned':
      if (of.heldBack !== null) {
        return `held back at ${clock(of.heldBack, zone)}: one of too many; told with others at ${clock(of.nextAt, zone)}`;
      }
      if (of.attempts > 0) {
        return `waits after ${many(of.attempts, 'attempt')}, next ${clock(of.nextAt, zone)}${answer}`;
      }
      return of.nextAt > now ? `goes at ${clock(of.nextAt, zone)}${answer}` : 'goes now';
  }
}

const lateWords = (late: number) => (late < 1_000 ? 'at once' : `${quantity(late / 1_000, 'seconds')} after it was due`);

/** `Of these 100 messages 96 were taken over, 2 wait, 1 was not sent and 1 was given up.` */
export function countWords(messages: readonly ShownMessage[]): string {
  if (messages.length === 0) return 'No messages.';
  const has = (...among: ShownMessage['status'][]) => messages.filter((one) => among.includes(one.status)).length;
  const [sent, waits, not, given] = [has('sent'), has('planned', 'sending'), has('dropped'), has('failed')];
  const all = messages.length;
  if (sent === all) return all === 1 ? 'This message was taken over.' : `All of these ${all} messages were taken over.`;
  const parts = [
    sent === 0 ? 'none was taken over' : many(sent, 'was taken over', 'were taken over'),
    ...(waits > 0 ? [many(waits, 'waits', 'wait')] : []),
    ...(not > 0 ? [many(not, 'was not sent', 'were not sent')] : []),
    ...(given > 0 ? [many(given, 'was given up', 'were given up')] : []),
  ];
  return `Of ${all === 1 ? 'this message' : `these ${all} messages`} ${parts.slice(0, -1).join(', ')}${parts.length > 1 ? ' and ' : ''}${parts.at(-1)}.`;
}
