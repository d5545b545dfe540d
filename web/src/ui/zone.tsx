import { useFieldParts } from './controls';
import { useSession } from './session';

const browsers = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Whether the browser can tell times in it. */
export function isZone(name: unknown): name is string {
  if (typeof name !== 'string' || name === '') return false;
  try {
    Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/** Those most people choose among, each once. */
export const nearZones = (siteZone: string, chosen: string) => [...new Set([siteZone, browsers, 'UTC', chosen])];
export const zoneNote = (zone: string, siteZone: string) =>
  zone === siteZone ? 'of the site' : zone === browsers ? 'of this browser' : '';

/** The zone in which times are shown: that of the site, of this browser, UTC, or any other. */
export function ZoneSelect({
  value,
  onChange,
  className,
}: {
  value: string;
  onChange: (zone: string) => void;
  className?: string;
}) {
  const { siteZone } = useSession();
  const parts = useFieldParts();
  const near = nearZones(siteZone, value);
  return (
    <select
      {...parts}
      aria-label={parts.id ? undefined : 'Times in'}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className={className}
    >
      {near.map((zone) => (
        <option key={zone} value={zone}>
          {[zone, zoneNote(zone, siteZone)].filter(Boolean).join(', ')}
        </option>
      ))}
      <optgroup label="Others">
        {Intl.supportedValuesOf('timeZone')
          .filter((zone) => !near.includes(zone))
          .map((zone) => (
            <option key={zone}>{zone}</option>
          ))}
      </optgroup>
    </select>
  );
}
