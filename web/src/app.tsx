import { useQuery, useQueryClient } from '@tanstack/react-query';
import { RouterProvider } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { Toaster } from 'sonner';
import { SIGNED_OUT } from './api/client';
import { session as asked } from './api/queries';
import { PublicLayout } from './layouts';
import { SignIn } from './people/sign-in';
import { SignInAgain } from './people/sign-in-again';
import { router } from './routes';
import { Button } from './ui/controls';
import { SessionContext } from './ui/session';
import { isZone } from './ui/zone';

/** Who is signed in, the zone they look at times in, and the pages. */
export function App() {
  const queries = useQueryClient();
  const session = useQuery(asked.current());
  const [chosenZone, setChosenZone] = useState(() => localStorage.getItem('zone'));
  const [isOut, setOut] = useState(false);
  useEffect(() => {
    const signedOut = () => setOut(true);
    addEventListener(SIGNED_OUT, signedOut);
    return () => removeEventListener(SIGNED_OUT, signedOut);
  }, []);
  const [last, setLast] = useState(session.data?.person ? session.data : null);
  if (session.data?.person && session.data !== last) setLast(session.data);
  if (session.isPending) return null;
  if (!session.data) {
    return (
      <PublicLayout>
        <p role="alert" className="mb-4 text-critical">
          {session.error.message}
        </p>
        <Button onClick={() => void session.refetch()}>Try again</Button>
      </PublicLayout>
    );
  }
  // Signed out meanwhile: the page stays, and signing in comes over it.
  const { person, zone: siteZone } = session.data.person || !last ? session.data : last;
  if (!person) {
    return (
      <PublicLayout>
        <SignIn onDone={() => void queries.invalidateQueries({ queryKey: asked.key })} />
      </PublicLayout>
    );
  }
  const chooseZone = (zone: string) => {
    if (zone === siteZone) localStorage.removeItem('zone');
    else localStorage.setItem('zone', zone);
    setChosenZone(zone);
  };
  return (
    <SessionContext value={{ person, siteZone, zone: isZone(chosenZone) ? chosenZone : siteZone, chooseZone }}>
      <RouterProvider router={router} />
      <SignInAgain open={isOut || !session.data.person} onDone={() => setOut(false)} />
      <Toaster position="bottom-left" toastOptions={{ className: '!bg-ink !text-paper !border-0 !font-sans' }} />
    </SessionContext>
  );
}
