import { describe, expect, it } from 'vitest';
import { clock, day, dayNumber, minuteOfDay } from '../format';
import { timeSplits, timeWords } from './time-splits';

const TICK_PX = 95;
/** As the timeline of Watch says them. */
const hours = (from: number, to: number, zone: string, width: number) => {
  const ticks = timeSplits(from, to, zone, width / TICK_PX);
  return ticks.map((at) => ({ at, words: minuteOfDay(at, zone) === 0 ? day(at, zone) : clock(at, zone) }));
};

const at = (text: string) => Date.parse(text);

describe('times along an axis', () => {
  it.each([
    [
      'a short span in quarters',
      '2026-11-25T09:50:00Z',
      '2026-11-25T11:10:00Z',
      'UTC',
      1200,
      ['10:00', '10:15', '10:30', '10:45', '11:00'],
    ],
    [
      'ten hours, as Watch opens',
      '2026-11-25T08:10:00Z',
      '2026-11-25T18:10:00Z',
      'UTC',
      1200,
      ['09:00', '10:00', '11:00', '12:00', '13:00', '14:00', '15:00', '16:00', '17:00', '18:00'],
    ],
    [
      'the same on a phone has room for fewer',
      '2026-11-25T08:10:00Z',
      '2026-11-25T18:10:00Z',
      'UTC',
      390,
      ['09:00', '12:00', '15:00', '18:00'],
    ],
    [
      'hours of the zone, not of UTC',
      '2026-11-25T08:10:00Z',
      '2026-11-25T11:10:00Z',
      'Asia/Kolkata',
      390,
      ['14:00', '15:00', '16:00'],
    ],
    [
      'midnight bears its date',
      '2026-11-24T21:00:00Z',
      '2026-11-25T03:00:00Z',
      'UTC',
      700,
      ['21:00', '22:00', '23:00', 'Wed 25', '01:00', '02:00', '03:00'],
    ],
  ])('%s', (_, from, to, zone, width, words) =>
    expect(hours(at(from), at(to), zone, width).map((hour) => hour.words)).toEqual(words),
  );

  it('skips the hour that the clocks skip, and says the one they repeat twice', () => {
    expect(
      hours(at('2027-03-28T00:00:00Z'), at('2027-03-28T03:00:00Z'), 'Europe/Lisbon', 1200)
        .map((hour) => hour.words)
        .filter((words) => words.endsWith(':00')),
    ).toEqual(['02:00', '03:00', '04:00']);
    expect(hours(at('2026-10-24T23:30:00Z'), at('2026-10-25T03:00:00Z'), 'Europe/Lisbon', 400).map((hour) => hour.words)).toEqual(
      ['01:00', '01:00', '02:00', '03:00'],
    );
  });

  it('never crowds, whatever the span and the room', () => {
    for (const days of [0.05, 0.4, 1, 3, 8, 15]) {
      for (const width of [300, 700, 1200]) {
        const found = hours(at('2026-11-11T07:03:00Z'), at('2026-11-11T07:03:00Z') + days * 86_400_000, 'Europe/Lisbon', width);
        expect(found.length).toBeLessThanOrEqual(Math.max(16, width / 60));
        expect(found).toEqual(found.toSorted((a, b) => a.at - b.at));
      }
    }
  });

  it('stands on full hours of zones that are off by half an hour, and on all midnights of a month with a clock change', () => {
    for (const zone of ['Asia/Kolkata', 'America/St_Johns', 'Australia/Lord_Howe', 'Pacific/Chatham', 'UTC']) {
      const from = at('2026-11-25T08:10:00Z');
      for (const tick of timeSplits(from, from + 10 * 3_600_000, zone, 12)) expect(clock(tick, zone), zone).toMatch(/:00$/);
    }
    for (const zone of ['Europe/Lisbon', 'America/New_York', 'Pacific/Auckland', 'Asia/Kolkata']) {
      const ticks = timeSplits(at('2026-10-10T00:00:00Z'), at('2026-11-12T00:00:00Z'), zone, 20);
      expect(ticks.length, zone).toBeGreaterThanOrEqual(16);
      for (const tick of ticks) expect(minuteOfDay(tick, zone), zone).toBe(0);
      const days = ticks.map((tick) => dayNumber(tick, zone));
      expect(new Set(days.slice(1).map((one, i) => one - days[i]!)), zone).toEqual(new Set([2]));
    }
  });

  it('goes down to seconds', () => {
    const from = at('2026-11-25T08:00:03Z');
    expect(timeWords(timeSplits(from, from + 60_000, 'UTC', 6), 'UTC')).toEqual([
      '08:00:10',
      '08:00:20',
      '08:00:30',
      '08:00:40',
      '08:00:50',
      '08:01:00',
    ]);
  });
});
