import { describe, expect, it } from 'vitest';
import type { ChannelState } from '../api/types';
import { goesWords, stateWords, waysWords } from './channel-words';

const channel = (of: Partial<ChannelState> = {}): ChannelState => ({
  name: 'e-mail',
  kind: 'e-mail',
  where: 'by mail.saltmarsh.example',
  answered: 'by a link in it',
  standsIn: true,
  waiting: 0,
  failingSince: null,
  reason: '',
  refusesSome: false,
  sentLastDay: 0,
  medianMs: null,
  ...of,
});
/** Values stay with their units by spaces that do not break. */
const plain = (words: string) => words.replaceAll('\u00a0', ' ');
const NOW = 1_800_000_000_000;

describe('the page of channels says', () => {
  it.each<[string, ChannelState[], string]>([
    ['nothing is set up', [], 'Nobody can be reached: no channel is set up.'],
    ['no mail server', [channel({ reason: 'No mail server is set' })], 'Nobody can be reached: no channel is set up.'],
    [
      'no mail server, and a webhook',
      [channel({ reason: 'No mail server is set' }), channel({ name: 'harbour-board' })],
      'Messages go by harbour-board alone.',
    ],
    ['one way', [channel()], 'Messages go by e-mail alone.'],
    [
      'one after the other, without what is only set up',
      [channel(), channel({ name: 'harbour-board' }), channel({ name: 'pier-hook', standsIn: false })],
      'Messages go by e-mail, and by harbour-board where that fails.',
    ],
    [
      'three',
      [channel(), channel({ name: 'harbour-board' }), channel({ name: 'pier-hook' })],
      'Messages go by e-mail, and by harbour-board and pier-hook where that fails.',
    ],
  ])('by which ways: %s', (_, channels, words) => expect(waysWords(channels)).toBe(words));

  it.each<[ChannelState[], string]>([
    [[channel()], 'None went out in the last day; none waits.'],
    [[channel({ sentLastDay: 12 }), channel({ sentLastDay: 1, waiting: 1 })], '13 went out in the last day; 1 waits.'],
    [[channel({ waiting: 3 })], 'None went out in the last day; 3 wait.'],
  ])('how many went: %#', (channels, words) => expect(plain(goesWords(channels))).toBe(words));

  it.each<[Partial<ChannelState>, string]>([
    [{}, 'Took nothing in the last day.'],
    [{ sentLastDay: 13, medianMs: 700 }, 'Took 13 in the last day, half of them within 700 ms.'],
    [{ sentLastDay: 13, medianMs: 2_000, waiting: 1 }, 'Took 13 in the last day, half of them within 2 s. 1 message waits.'],
    [
      { failingSince: NOW - 300_000, reason: 'it did not answer within 3 s', waiting: 2 },
      'Takes nothing for 5 min: it did not answer within 3 s. 2 messages wait.',
    ],
    [
      { failingSince: NOW + 5, reason: 'nobody listens there', waiting: 1 },
      'Takes nothing for 1 s: nobody listens there. 1 message waits.',
    ],
  ])('how a channel does: %#', (of, words) => expect(plain(stateWords(channel(of), NOW))).toBe(words));
});
