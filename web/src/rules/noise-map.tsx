import type { SpokenRule } from '../api/types';
import { many } from '../ui/format';
import { HUES } from '../ui/severity';

const WIDTH = 640;
const HEIGHT = 360;
const LEFT = 96;
const RIGHT = 28;
const TOP = 34;
const BOTTOM = 78;
/** Below the axis of what is said stands of what nobody has said anything. */
const UNSAID = HEIGHT - 50;
const LEAST_ACROSS = 8;
const NOISY_INCIDENTS = 3;

const worth = ({ useful, noise }: SpokenRule): number | null => (useful + noise === 0 ? null : useful / (useful + noise));
/** It calls people often, and it was worth it in less than half of what was said. */
export const isNoisy = (rule: SpokenRule): boolean => {
  const share = worth(rule);
  return share !== null && share < 0.5 && rule.incidents >= NOISY_INCIDENTS;
};

/** Rules by how often they open an incident (across) and how often it was worth it (up). */
export function NoiseMap({
  rules,
  chosen,
  onChoose,
}: {
  rules: SpokenRule[];
  chosen: number | null;
  onChoose: (id: number) => void;
}) {
  const most = Math.max(LEAST_ACROSS, ...rules.map((rule) => rule.incidents));
  const x = (incidents: number) => LEFT + (incidents / most) * (WIDTH - LEFT - RIGHT);
  const y = (share: number) => TOP + (1 - share) * (HEIGHT - TOP - BOTTOM);
  const step = Math.max(1, Math.ceil(most / 8));
  const places = placed(rules, x, y);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="mt-2 w-full" role="group" aria-label="Rules by incidents and worth">
      <rect
        x={x(NOISY_INCIDENTS)}
        y={y(0.5)}
        width={WIDTH - RIGHT - x(NOISY_INCIDENTS)}
        height={y(0) - y(0.5)}
        fill="var(--minor)"
        opacity="0.1"
      />
      <text x={WIDTH - RIGHT - 6} y={y(0.5) + 16} textAnchor="end" className="fill-muted text-[11px]">
        calls people and is not worth it
      </text>
      <text x={8} y={TOP - 16} className="fill-muted text-[11px]">
        worth it
      </text>
      {(
        [
          [1, 'always'],
          [0.5, 'half'],
          [0, 'never'],
        ] as const
      ).map(([share, words]) => (
        <g key={words}>
          <line x1={LEFT} x2={WIDTH - RIGHT} y1={y(share)} y2={y(share)} stroke="var(--line)" />
          <text x={16} y={y(share) + 4} className="fill-muted text-[11px]">
            {words}
          </text>
        </g>
      ))}
      <line x1={LEFT} x2={WIDTH - RIGHT} y1={UNSAID} y2={UNSAID} stroke="var(--line)" strokeDasharray="3 4" />
      <text x={16} y={UNSAID + 4} className="fill-muted text-[11px]">
        nobody said
      </text>
      {Array.from({ length: Math.floor(most / step) + 1 }, (_, i) => i * step).map((tick) => (
        <text key={tick} x={x(tick)} y={HEIGHT - 22} textAnchor="middle" className="fill-muted text-[11px]">
          {tick}
        </text>
      ))}
      <text x={(LEFT + WIDTH - RIGHT) / 2} y={HEIGHT - 6} textAnchor="middle" className="fill-muted text-[11px]">
        incidents it opened in 30 days
      </text>
      {places.map(({ rule, at, name }) => {
        const share = worth(rule);
        const said = share === null ? 'nobody said' : `${rule.useful} useful, ${rule.noise} noise`;
        return (
          <g
            key={rule.id}
            role="button"
            tabIndex={0}
            aria-pressed={rule.id === chosen}
            aria-label={`${rule.name}: ${many(rule.incidents, 'incident')}, ${said}`}
            className="cursor-pointer"
            onClick={() => onChoose(rule.id)}
            onKeyDown={(event) => {
              if (event.key !== 'Enter' && event.key !== ' ') return;
              event.preventDefault();
              onChoose(rule.id);
            }}
          >
            {rule.id === chosen && <circle cx={at[0]} cy={at[1]} r="11" fill="none" stroke="var(--accent)" strokeWidth="2" />}
            <circle
              cx={at[0]}
              cy={at[1]}
              r="5.5"
              fill={share === null ? 'var(--sheet)' : HUES[rule.severity]}
              stroke={HUES[rule.severity]}
              strokeWidth="1.75"
            />
            <title>{`${rule.name}: ${many(rule.incidents, 'incident')}, ${said}`}</title>
            {name && (
              <text
                x={name.x}
                y={name.y + 4}
                textAnchor={name.anchor}
                className={rule.id === chosen ? 'fill-ink text-[12px] font-semibold' : 'fill-ink text-[12px]'}
              >
                {rule.name}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}

type Name = { x: number; y: number; anchor: 'start' | 'end' | 'middle' };
type Placed = { rule: SpokenRule; at: [number, number]; name: Name | null };

/** Where each stands, and its name beside, over or under it where neither a name nor another rule is in the way. */
function placed(rules: SpokenRule[], x: (incidents: number) => number, y: (share: number) => number): Placed[] {
  const dots: [number, number][] = [];
  for (const rule of rules) {
    const share = worth(rule);
    const at: [number, number] = [x(rule.incidents), share === null ? UNSAID : y(share)];
    // What stands at the same place moves aside a little, so that each can be chosen.
    while (dots.some(([dx, dy]) => Math.abs(dx - at[0]) < 13 && Math.abs(dy - at[1]) < 11)) at[0] += 14;
    dots.push(at);
  }
  const taken = dots.map(([dx, dy]) => ({ from: dx - 9, to: dx + 9, y: dy }));
  return rules.map((rule, i) => {
    const [dx, dy] = dots[i]!;
    const wide = rule.name.length * 6.4;
    const tries: [Name, number][] = [
      [{ x: dx + 14, y: dy, anchor: 'start' }, dx + 14],
      [{ x: dx - 14, y: dy, anchor: 'end' }, dx - 14 - wide],
      [{ x: dx, y: dy + 18, anchor: 'middle' }, dx - wide / 2],
      [{ x: dx, y: dy - 18, anchor: 'middle' }, dx - wide / 2],
    ];
    const found = tries.find(
      ([name, from]) =>
        from > LEFT - 50 &&
        from + wide < WIDTH &&
        name.y < UNSAID + 8 &&
        !taken.some((other) => Math.abs(other.y - name.y) < 13 && other.from < from + wide && from < other.to),
    );
    if (found) taken.push({ from: found[1], to: found[1] + wide, y: found[0].y });
    return { rule, at: [dx, dy], name: found?.[0] ?? null };
  });
}
