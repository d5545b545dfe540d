export function FleetPage() { return <p>…</p>; }
