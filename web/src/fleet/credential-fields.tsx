import type { CredentialFields as Sent, ShownCredential } from '../api/types';
import { Field, Input, Select, TextArea } from '../ui/controls';

export type CredentialDraft = { kind: 'keep' | Sent['kind']; name: string; secret: string };
export const NO_CREDENTIAL: CredentialDraft = { kind: 'keep', name: '', secret: '' };

/** What is sent: nothing where it shall stay as it is. */
export const credentialBody = ({ kind, name, secret }: CredentialDraft): { credential?: Sent } =>
  kind === 'keep' ? {} : { credential: kind === 'none' ? { kind } : { kind, name, secret } };

const WORDS: Record<string, string> = {
  basic: 'user and password',
  bearer: 'bearer token',
  header: 'a header',
  certificate: 'client certificate',
  lost: 'one that cannot be opened any more',
};
export const credentialWords = (shown: ShownCredential) =>
  shown ? `${WORDS[shown.kind] ?? shown.kind}${shown.name ? ` (${shown.name})` : ''}` : 'none';

/** A secret is kept encrypted and never shown again, so the fields are always empty at first. */
export function CredentialFields({
  shown,
  draft,
  error,
  onChange,
}: {
  shown: ShownCredential;
  draft: CredentialDraft;
  error?: string;
  onChange: (draft: CredentialDraft) => void;
}) {
  const set = (part: Partial<CredentialDraft>) => onChange({ ...draft, ...part });
  return (
    <div className="space-y-3">
      <Field label="Credential" error={error} help={draft.kind === 'keep' ? undefined : 'Kept encrypted, and never shown again.'}>
        <Select
          name="credentialKind"
          value={draft.kind}
          onChange={(event) => onChange({ kind: event.target.value as CredentialDraft['kind'], name: '', secret: '' })}
        >
          <option value="keep">{shown ? `as it is: ${credentialWords(shown)}` : 'none'}</option>
          {shown && <option value="none">none</option>}
          <option value="basic">user and password</option>
          <option value="bearer">bearer token</option>
          <option value="header">a header</option>
          <option value="certificate">client certificate</option>
        </Select>
      </Field>
      {draft.kind === 'certificate' && (
        <>
          <Field label="Certificate, PEM">
            <TextArea
              name="credentialName"
              rows={3}
              value={draft.name}
              onChange={(event) => set({ name: event.target.value })}
              className="font-mono text-[12px]"
            />
          </Field>
          <Field label="Private key, PEM">
            <TextArea
              name="credentialSecret"
              rows={3}
              value={draft.secret}
              onChange={(event) => set({ secret: event.target.value })}
              className="font-mono text-[12px]"
            />
          </Field>
        </>
      )}
      {(draft.kind === 'basic' || draft.kind === 'header' || draft.kind === 'bearer') && (
        <div className="grid grid-cols-2 gap-3">
          {draft.kind !== 'bearer' && (
            <Field label={draft.kind === 'basic' ? 'User' : 'Header'}>
              <Input
                name="credentialName"
                value={draft.name}
                onChange={(event) => set({ name: event.target.value })}
                autoComplete="off"
              />
            </Field>
          )}
          <Field label={draft.kind === 'basic' ? 'Password' : draft.kind === 'bearer' ? 'Token' : 'Value'}>
            <Input
              name="credentialSecret"
              type="password"
              value={draft.secret}
              onChange={(event) => set({ secret: event.target.value })}
              autoComplete="new-password"
            />
          </Field>
        </div>
      )}
    </div>
  );
}
