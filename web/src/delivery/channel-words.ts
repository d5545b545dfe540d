import type { ChannelState } from '../api/types';
import { listed, many, quantity, span } from '../ui/format';

/** `Messages go by e-mail, and by harbour-board where that fails.` */
export function waysWords(channels: readonly ChannelState[]): string {
  const isSetUp = (one: ChannelState) => one.reason === '' || one.failingSince !== null;
  const [first, ...then] = channels.filter((one) => one.standsIn && isSetUp(one)).map((one) => one.name);
  if (first === undefined) {
    return 'Nobody can be reached: no channel is set up.';
  }
  return then.length === 0
    ? `Messages go by ${first} alone.`
    : `Messages go by ${first}, and by ${listed(then)} where that fails.`;
}

/** `13 went out in the last day; 2 wait.` */
export function goesWords(channels: readonly ChannelState[]): string {
  const sent = channels.reduce((sum, one) => sum + one.sentLastDay, 0);
  const waiting = channels.reduce((sum, one) => sum + one.waiting, 0);
  const went = sent === 0 ? 'None went out in the last day' : `${sent} went out in the last day`;
  return `${went}; ${waiting === 0 ? 'none waits' : many(waiting, 'waits', 'wait')}.`;
}

/** `Took 13 in the last day, most within 0.7 s.` or why it takes nothing, and since when. */
export function stateWords(channel: ChannelState, now: number): string {
  const waits = channel.waiting === 0 ? '' : ` ${many(channel.waiting, 'message waits', 'messages wait')}.`;
  if (channel.reason !== '') {
    const lasts = channel.failingSince === null ? '' : ` for ${span(Math.max(1_000, now - channel.failingSince))}`;
    return `${channel.refusesSome ? 'Takes some, and refuses others' : 'Takes nothing'}${lasts}: ${channel.reason}.${waits}`;
  }
  const took =
    channel.sentLastDay === 0 || channel.medianMs === null
      ? 'Took nothing in the last day.'
      : `Took ${channel.sentLastDay} in the last day, half of them within ${quantity(channel.medianMs / 1000, 'seconds')}.`;
  return `${took}${waits}`;
}
