import { HUES } from '../ui/chart/hues';

/** How one formula of the page is told from the others; whatever is not chosen follows from its place and its unit. */
export type Look = { name?: string; hue?: number; axis?: 'left' | 'right' };

const LONGEST_NAME = 40;

/** Looks out of an address, which anybody can write. */
export function looksOf(value: unknown): Look[] | undefined {
  if (!Array.isArray(value)) return undefined;
  const looks = value.map((one: unknown): Look => {
    const part = (one ?? {}) as Record<string, unknown>;
    const name = typeof part['name'] === 'string' ? part['name'].slice(0, LONGEST_NAME) : '';
    const hue = part['hue'];
    return {
      ...(name.trim() !== '' && { name }),
      ...(typeof hue === 'number' && Number.isInteger(hue) && hue >= 0 && hue < HUES && { hue }),
      ...((part['axis'] === 'left' || part['axis'] === 'right') && { axis: part['axis'] }),
    };
  });
  return looks.some((look) => Object.keys(look).length > 0) ? looks : undefined;
}

/** Which axis each formula stands on: the one chosen, or the left one for the unit of the first and the right one for another. */
export function axes(looks: Look[], units: (string | undefined)[]): ('left' | 'right')[] {
  const first = units.find((unit, i) => unit !== undefined && looks[i]?.axis !== 'right');
  return units.map(
    (unit, i) => looks[i]?.axis ?? (unit === undefined || first === undefined || unit === first ? 'left' : 'right'),
  );
}
