import { expect, test } from 'vitest';
import { dayAfter, localText, midnights } from './local-time';

test('times are told as the clocks there show them', () => {
  expect(localText(Date.parse('2026-11-28T10:00:00Z'), 'Europe/Lisbon')).toBe('2026-11-28 10:00');
  expect(localText(Date.parse('2026-07-01T23:30:00Z'), 'Europe/Lisbon')).toBe('2026-07-02 00:30');
  expect(localText(Date.parse('2026-11-28T00:00:00Z'), 'Australia/Lord_Howe')).toBe('2026-11-28 11:00');
  expect(dayAfter('2026-12-28', 7)).toBe('2027-01-04');
});

test('days over a clock change are as long as they are', () => {
  const from = Date.parse('2026-10-23T23:00:00Z');
  const found = midnights(from, Date.parse('2026-10-28T00:00:00Z'), 'Europe/Lisbon');
  expect(found.map((at) => localText(at, 'Europe/Lisbon'))).toEqual([
    '2026-10-24 00:00',
    '2026-10-25 00:00',
    '2026-10-26 00:00',
    '2026-10-27 00:00',
  ]);
  expect(found[2]! - found[1]!).toBe(25 * 3_600_000);
});
