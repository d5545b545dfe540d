import { useQueryClient } from '@tanstack/react-query';
import { DialogBox } from '../ui/dialog-box';
import { useSession } from '../ui/session';
import { SignIn } from './sign-in';

/**
 * The session ended while a page was open: signing in comes over the page, and what was typed there is still there.
 * Somebody else begins with a page of their own.
 */
export function SignInAgain({ open, onDone }: { open: boolean; onDone: () => void }) {
  const queries = useQueryClient();
  const { person: before } = useSession();
  return (
    <DialogBox open={open} onOpenChange={() => undefined} title="You are signed out" wide={400}>
      <p className="mb-4 text-muted">Sign in again and go on where you were: nothing you typed is lost.</p>
      <SignIn
        email={before.email}
        onDone={(person) => {
          if (person.id !== before.id) location.assign('/');
          void queries.invalidateQueries();
          onDone();
        }}
      />
    </DialogBox>
  );
}
