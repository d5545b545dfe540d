import { useState } from 'react';
import { send } from '../api/client';
import type { Person } from '../api/types';
import { Button, Field, Input } from '../ui/controls';

/** Address and password; whoever comes in is told of. */
export function SignIn({ email: known = '', onDone }: { email?: string; onDone: (person: Person) => void }) {
  const [email, setEmail] = useState(known);
  const [password, setPassword] = useState('');
  const [error, setError] = useState('');
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    setError('');
    try {
      onDone(await send('post', '/api/session', { body: { email, password } }));
    } catch (problem) {
      setError((problem as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      className="space-y-4"
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <title>Sign in · Olivine</title>
      <Field label="E-mail">
        <Input
          type="email"
          name="email"
          autoComplete="username"
          required
          value={email}
          onChange={(event) => setEmail(event.target.value)}
        />
      </Field>
      <Field label="Password">
        <Input
          type="password"
          name="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
      </Field>
      {error && (
        <p role="alert" className="text-critical">
          {error}
        </p>
      )}
      <Button type="submit" look="accent" disabled={busy} className="w-full py-2.5">
        Sign in
      </Button>
    </form>
  );
}
