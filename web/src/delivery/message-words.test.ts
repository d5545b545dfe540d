import { describe, expect, it } from 'vitest';
import type { ShownMessage } from '../api/types';
import { countWords, outcomeWords } from './message-words';

/** Sat 28 Nov 2026, 03:12:00 in Lisbon. */
const DUE = Date.UTC(2026, 10, 28, 3, 12);
const message = (of: Partial<ShownMessage> = {}): ShownMessage => ({
  id: 1,
  incident: 7,
  title: 'Boarding queue',
  severity: 'major',
  of: 'rung 1',
  person: 'Ines Duarte',
  channel: 'e-mail',
  dueAt: DUE,
  status: 'sent',
  attempts: 1,
  nextAt: DUE,
  sentAt: DUE + 400,
  heldBack: null,
  answer: '',
  rehearsed: false,
  key: 'incident-7.raised.1.2.abc',
  ...of,
});
const plain = (words: string) => words.replaceAll('\u00a0', ' ');

describe('of a message is said', () => {
  it.each<[string, Partial<ShownMessage>, string]>([
    ['it went at once', {}, 'taken over there Sat 28 Nov, 03:12, at once'],
    [
      'late, at the third attempt',
      { sentAt: DUE + 95_000, attempts: 3 },
      'taken over there Sat 28 Nov, 03:13, 95 s after it was due, at attempt 3',
    ],
    ['it is under way', { status: 'sending', sentAt: null }, 'under way'],
    ['it goes', { status: 'planned', sentAt: null, attempts: 0 }, 'goes now'],
    ['it goes later', { status: 'planned', sentAt: null, attempts: 0, nextAt: DUE + 600_000 }, 'goes at 03:22'],
    [
      'it is tried again',
      { status: 'planned', sentAt: null, attempts: 2, nextAt: DUE + 120_000, answer: '451 later' },
      'waits after 2 attempts, next 03:14: 451 later',
    ],
    [
      'it is one of too many',
      { status: 'planned', sentAt: null, attempts: 0, heldBack: DUE, nextAt: DUE + 1_800_000 },
      'held back at 03:12: one of too many; told with others at 03:42',
    ],
    ['it is over', { status: 'dropped', sentAt: null, attempts: 0, answer: 'it was over' }, 'not sent: it was over'],
    [
      'it was given up',
      { status: 'failed', sentAt: null, attempts: 9, answer: '550 no such box' },
      'given up after 9 attempts: 550 no such box',
    ],
  ])('%s', (_, of, words) => {
    expect(plain(outcomeWords(message(of), DUE + 1_000, 'Europe/Lisbon'))).toBe(words);
  });

  it.each<[ShownMessage['status'][], string]>([
    [[], 'No messages.'],
    [['sent'], 'This message was taken over.'],
    [['sent', 'sent'], 'All of these 2 messages were taken over.'],
    [['failed'], 'Of this message none was taken over and 1 was given up.'],
    [
      ['sent', 'sent', 'planned', 'sending', 'dropped', 'failed'],
      'Of these 6 messages 2 were taken over, 2 wait, 1 was not sent and 1 was given up.',
    ],
  ])('%s', (states, words) => {
    expect(plain(countWords(states.map((status) => message({ status }))))).toBe(words);
  });
});
