export function RulePage() { return <p>…</p>; }
