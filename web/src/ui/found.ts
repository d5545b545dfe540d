export type Findable = {
  kind: 'page' | 'incident' | 'rule' | 'target' | 'metric' | 'person';
  name: string;
  about: string;
  to: string;
  formula?: string;
};

const MOST = 14;

/** Every word must be somewhere; a name that begins with the first word comes before one that holds it, and both before what is only said about it. */
export function found(all: Findable[], text: string): Findable[] {
  const words = text
    .toLowerCase()
    .split(/[\s_]+/)
    .filter(Boolean);
  if (words.length === 0) return all.slice(0, MOST);
  const rank = (one: Findable): number => {
    const name = one.name.toLowerCase();
    if (name.startsWith(words[0]!)) return 0;
    if (name.split(/[\s_.-]+/).some((part) => part.startsWith(words[0]!))) return 1;
    return name.includes(words[0]!) ? 2 : 3;
  };
  return all
    .filter((one) => words.every((word) => `${one.name} ${one.about} ${one.kind}`.toLowerCase().includes(word)))
    .map((one, at) => ({ one, at, rank: rank(one) }))
    .sort((a, b) => a.rank - b.rank || a.at - b.at)
    .slice(0, MOST)
    .map(({ one }) => one);
}
