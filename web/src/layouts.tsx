import type { ReactNode } from 'react';
import mark from './olivine.svg';
import { TopBar } from './ui/top-bar';
import { Alarms } from './watch/alarms';

/** Pages of those who are signed in: the bar, and the work below it. */
export function SignedInLayout({ children }: { children: ReactNode }) {
  return (
    <>
      <TopBar />
      <main className="mx-auto max-w-[1600px] px-5 pb-8 max-sm:px-3">{children}</main>
      <Alarms />
    </>
  );
}

/** A page for whoever comes without an account: one thing, in the middle. */
export function PublicLayout({ children }: { children: ReactNode }) {
  return (
    <main className="grid min-h-dvh place-items-center p-4">
      <div className="w-full max-w-sm rounded-2xl border border-line bg-sheet p-8">
        <div className="mb-6 flex items-center gap-2.5">
          <img src={mark} alt="" width={28} height={28} />
          <h1>Olivine</h1>
        </div>
        {children}
      </div>
    </main>
  );
}

/** A page that hangs on a wall: large, without anything to press. */
export function WallLayout({ children }: { children: ReactNode }) {
  return <main className="min-h-dvh p-6 [zoom:1.35]">{children}</main>;
}
