export function SetupPage() { return <p>…</p>; }
