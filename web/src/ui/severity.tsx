import type { Severity } from '../api/types';

/** The gravest first. */
export const SEVERITIES: readonly Severity[] = ['critical', 'major', 'minor', 'warning'];

export const HUES: Record<Severity | 'blind' | 'calm', string> = {
  critical: 'var(--critical)',
  major: 'var(--major)',
  minor: 'var(--minor)',
  warning: 'var(--warning)',
  blind: 'var(--blind)',
  calm: 'var(--accent)',
};

/** Crystal shapes inside a 16 by 16 field; the shape alone tells the severity. */
export function CrystalPath({ severity }: { severity: Severity | 'blind' | 'calm' }) {
  const hue = HUES[severity];
  switch (severity) {
    case 'critical':
      return <path d="M8 1 14.1 4.5V11.5L8 15 1.9 11.5V4.5Z" fill={hue} />;
    case 'major':
      return <path d="M8 1 13.5 8 8 15 2.5 8Z" fill={hue} />;
    case 'minor':
      return (
        <>
          <path d="M8 1.8 13 8 8 14.2 3 8Z" fill="var(--sheet)" stroke={hue} strokeWidth="1.5" />
          <path d="M8 1.8V14.2L3 8Z" fill={hue} />
        </>
      );
    case 'warning':
      return <path d="M8 2 12.8 8 8 14 3.2 8Z" fill="var(--sheet)" stroke={hue} strokeWidth="1.7" />;
    case 'blind':
      return <circle cx="8" cy="8" r="5.4" fill="none" stroke={hue} strokeWidth="1.7" strokeDasharray="2.6 2" />;
    case 'calm':
      return <circle cx="8" cy="8" r="3" fill={hue} />;
  }
}

export function Crystal({ severity, size = 16 }: { severity: Severity | 'blind' | 'calm'; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" role="img" aria-label={severity} className="shrink-0">
      <CrystalPath severity={severity} />
    </svg>
  );
}
