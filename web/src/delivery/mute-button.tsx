import { type ComponentProps, Suspense, lazy, useState } from 'react';
import { Button } from '../ui/controls';
import type { Of } from './mute-dialog';

/** Its form is fetched when somebody wants to hush something. */
const MuteDialog = lazy(() => import('./mute-dialog'));

/** Opens the form that hushes what matches. */
export function MuteButton({ mute, matching, name, ...button }: Of & ComponentProps<typeof Button>) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button {...button} onClick={() => setOpen(true)} />
      {open && (
        <Suspense>
          <MuteDialog open onOpenChange={setOpen} mute={mute} matching={matching} name={name} />
        </Suspense>
      )}
    </>
  );
}
