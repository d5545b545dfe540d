type Phases = { name?: number; connect?: number; tls?: number; wait?: number; transfer?: number };

const PHASES = [
  ['name', 'name', 'color-mix(in oklab, var(--accent) 25%, var(--sheet))'],
  ['connect', 'connect', 'color-mix(in oklab, var(--accent) 42%, var(--sheet))'],
  ['tls', 'TLS', 'color-mix(in oklab, var(--accent) 60%, var(--sheet))'],
  ['wait', 'waiting', 'color-mix(in oklab, var(--accent) 82%, var(--sheet))'],
  ['transfer', 'transfer', 'var(--accent)'],
] as const;

export const totalOf = (phases: Phases): number => PHASES.reduce((sum, [key]) => sum + (phases[key] ?? 0), 0);

const ms = (seconds: number) => (seconds < 0.0095 ? `${(seconds * 1000).toFixed(1)} ms` : `${Math.round(seconds * 1000)} ms`);

/** Where the time of one exchange went, end to end; as long as the longest one is wide. */
export function PhaseBar({ phases, longest }: { phases: Phases; longest: number }) {
  const there = PHASES.filter(([key]) => (phases[key] ?? 0) > 0);
  return (
    <span
      role="img"
      aria-label={there.map(([key, name]) => `${name} ${ms(phases[key]!)}`).join(', ') || 'nothing'}
      className="flex h-3 gap-px"
      style={{ width: `${Math.max(0.5, (totalOf(phases) / (longest || 1)) * 100)}%` }}
    >
      {there.map(([key, name, colour]) => (
        <span
          key={key}
          title={`${name} ${ms(phases[key]!)}`}
          className="min-w-px"
          style={{ flexGrow: (1000 * phases[key]!) / totalOf(phases), background: colour }}
        />
      ))}
    </span>
  );
}

export function PhaseKey() {
  return (
    <span aria-hidden className="flex flex-wrap gap-x-3 text-[12.5px] text-muted">
      {PHASES.map(([key, name, colour]) => (
        <span key={key} className="inline-flex items-center gap-1">
          <span className="inline-block h-2.5 w-2.5" style={{ background: colour }} />
          {name}
        </span>
      ))}
    </span>
  );
}
