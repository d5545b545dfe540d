import type { Place } from '../../api/types';
import { clock, listed, many } from '../../ui/format';

/** "Skarn is cut off since 05:08; its verdicts are held." */
export function placesSentence(places: Place[], zone: string): string {
  const off = places.filter((place) => place.cutOffSince !== null);
  const silent = places.filter((place) => place.isSilent);
  const able = places.filter((place) => place.references.length > 0);
  if (off.length > 0 && off.length === able.length) {
    return `We are the ones who are cut off, since ${clock(Math.min(...off.map((place) => place.cutOffSince!)), zone)}; all verdicts are held.`;
  }
  const parts = [
    off.length > 0
      ? `${listed(off.map((place) => place.name))} ${off.length === 1 ? 'is' : 'are'} cut off since ${clock(
          Math.min(...off.map((place) => place.cutOffSince!)),
          zone,
        )}; verdicts from there are held.`
      : '',
    silent.length > 0 ? `Nothing is heard of ${listed(silent.map((place) => place.name))}.` : '',
  ].filter((part) => part !== '');
  if (parts.length > 0) return parts.join(' ');
  return places.length === 1
    ? 'Checks are asked from the centre alone.'
    : `Checks are asked from ${many(places.length, 'place')}, and all of them are well.`;
}
