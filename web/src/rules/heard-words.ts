import type { Heard } from '../api/types';
import { listed, many, tied } from '../ui/format';

const MOST_NAMED = 4;

/** Who would have been told, as a sentence; null where there was nothing to tell. */
export function heardWords({ incidents, people, unheard }: Heard): string | null {
  if (incidents === 0) return null;
  const as = `As ${many(incidents, 'incident')} this would have told `;
  const named = people.slice(0, MOST_NAMED).map(personWords);
  const more = people.length > MOST_NAMED ? [many(people.length - MOST_NAMED, 'other', 'others')] : [];
  const whom = people.length === 0 ? 'nobody' : listed([...named, ...more]);
  const quick =
    unheard === 0 || people.length === 0 ? '' : `; ${unheard} ${unheard === 1 ? 'was' : 'were'} over before anybody was reached`;
  return tied(`${as}${whom}${quick}.`);
}

function personWords({ name, messages, atNight }: Heard['people'][number]): string {
  const times = messages === 1 ? 'once' : messages === 2 ? 'twice' : `${messages} times`;
  const night = atNight === 0 ? '' : atNight === messages ? ', at night' : `, ${atNight} at night`;
  return `${name} ${times}${night === '' ? '' : ` (${night.slice(2)})`}`;
}
