export function RulesPage() { return <p>…</p>; }
