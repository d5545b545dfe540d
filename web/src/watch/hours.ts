import { clock, day, minuteOfDay } from '../ui/format';

/** Round times of the day along the timeline, midnights with their date, as many as there is room for. */
export function hours(from: number, to: number, zone: string, width: number): { at: number; words: string }[] {
  const minutes = (to - from) / 60_000;
  const step = [15, 30, 60, 120, 180, 360, 720, 1440].find((candidate) => minutes / candidate <= width / 95) ?? 1440;
  const found: { at: number; words: string }[] = [];
  for (let at = Math.ceil(from / 900_000) * 900_000; at <= to; at += 900_000) {
    const minute = minuteOfDay(at, zone);
    if (minute % step === 0) found.push({ at, words: minute === 0 ? day(at, zone) : clock(at, zone) });
  }
  return found;
}
