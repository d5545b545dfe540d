import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { send } from '../api/client';
import { Button, Field, Input } from '../ui/controls';
import mark from '../olivine.svg';

export function SignIn() {
  const queries = useQueryClient();
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [error, setError] = useState('');
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    setError('');
    try {
      await send('post', '/api/session', { body: { email, password } });
      await queries.invalidateQueries({ queryKey: ['session'] });
    } catch (problem) {
      setError((problem as Error).message);
      setBusy(false);
    }
  };
  return (
    <main className="grid min-h-dvh place-items-center p-4">
      <form
        className="w-full max-w-sm rounded-2xl border border-line bg-sheet p-8"
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <div className="mb-6 flex items-center gap-2.5">
          <img src={mark} alt="" width={28} height={28} />
          <h1>Olivine</h1>
        </div>
        <div className="space-y-4">
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
        </div>
      </form>
    </main>
  );
}
