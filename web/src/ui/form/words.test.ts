import { describe, expect, it } from 'vitest';
import { durationOf, durationWords, instantOf, instantWords, valueOf, valueWords } from './words';

describe('durations in words', () => {
  it.each([
    ['5m', 300],
    ['1h30m', 5_400],
    ['1h 30 min', 5_400],
    ['90', 90],
    ['0s', 0],
    ['2.5h', 9_000],
    ['250ms', 0.25],
    ['2w', 1_209_600],
    ['', null],
    ['m', null],
    ['5 minutes', null],
    ['-5m', null],
    ['5m5', null],
    ['٣m', null],
  ])('%s is %s s', (text, seconds) => expect(durationOf(text)).toBe(seconds));

  it('say exactly what they are made of', () => {
    for (let seconds = 0; seconds < 400_000; seconds += 977) expect(durationOf(durationWords(seconds))).toBe(seconds);
  });
});

describe('values with units', () => {
  it.each([
    ['80 %', 'ratio', 0.8],
    ['80', 'ratio', 0.8],
    ['0.9', 'ratio', 0.009],
    ['7%', 'ratio', 0.07],
    ['2GiB', 'bytes', 2 * 1024 ** 3],
    ['400 MB', 'bytes', 400e6],
    ['12 kB/s', 'bytes per second', 12_000],
    ['1,200', 'bytes', 1_200],
    ['5m', 'seconds', 300],
    ['-250ms', 'seconds', -0.25],
    ['1.5k', '', 1_500],
    ['-3', '', -3],
    ['1e3', '', 1_000],
    ['4 /s', 'per second', 4],
    ['12 messages', 'messages', 12],
    ['12 letters', 'messages', null],
    ['80 %', 'bytes', null],
    ['5m', 'ratio', null],
    ['', '', null],
    ['above', '', null],
    ['--1', '', null],
  ])('%s of %s is %s', (text, unit, value) => expect(valueOf(text, unit)).toBe(value));

  it('stand in their field so that they are read back as they were', () => {
    let seed = 7;
    const chance = () => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647;
    for (let i = 0; i < 3_000; i++) {
      const value = Number(((chance() - 0.3) * 10 ** (chance() * 12 - 4)).toPrecision(6));
      for (const unit of ['', 'ratio', 'bytes', 'bytes per second', 'per second', 'messages', 'seconds']) {
        const words = valueWords(value, unit);
        expect(valueOf(words, unit), `${value} of ${unit}: ${words}`).toBeCloseTo(value, 9);
      }
    }
  });
});

describe('instants in a zone', () => {
  it.each([
    ['2026-11-20 03:12', 'UTC', '2026-11-20T03:12:00Z'],
    ['2026-07-20T03:12', 'Europe/Lisbon', '2026-07-20T02:12:00Z'],
    ['2026-11-20', 'Asia/Kathmandu', '2026-11-19T18:15:00Z'],
    ['2026-10-25 01:30', 'Europe/Lisbon', '2026-10-25T00:30:00Z'],
    ['2026-03-29 02:30', 'Europe/Lisbon', '2026-03-29T01:30:00Z'],
    ['2026-04-05 02:30', 'Australia/Sydney', '2026-04-04T15:30:00Z'],
  ])('%s in %s is %s', (text, zone, instant) => expect(instantOf(text, zone)).toBe(Date.parse(instant)));

  it.each(['', 'yesterday', '2026-02-30 10:00', '2026-11-20 24:00', '2026-11-20 3:12', '20.11.2026'])('%s is none', (text) =>
    expect(instantOf(text, 'UTC')).toBeNull(),
  );

  it('are none in an hour that the clocks leave out', () => expect(instantOf('2026-03-29 01:30', 'Europe/Lisbon')).toBeNull());

  it('stand in their field so that they are read back', () => {
    for (let at = Date.parse('2026-01-01T00:00:00Z'); at < Date.parse('2027-01-01T00:00:00Z'); at += 36_900_000)
      for (const zone of ['Europe/Lisbon', 'Australia/Lord_Howe', 'America/St_Johns']) {
        const back = instantOf(instantWords(at, zone), zone)!;
        // Of the hour that is there twice it is the first.
        expect([0, 1_800_000, 3_600_000]).toContain(at - back);
      }
  });
});
