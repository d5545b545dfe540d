export function MetricsPage() { return <p>…</p>; }
