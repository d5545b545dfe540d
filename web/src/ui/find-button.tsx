import { Dialog } from 'radix-ui';
import { Suspense, lazy, useState } from 'react';
import { KeyList, useKeys } from './keys';

const Search = lazy(() => import('./finder'));

/** `/` finds anything from anywhere, `?` shows the keys of what is open. */
export function FindButton() {
  const [open, setOpen] = useState<'find' | 'keys' | null>(null);
  useKeys('Everywhere', [
    { key: '/', words: 'find anything', act: () => setOpen('find') },
    { key: '?', words: 'these keys', act: () => setOpen('keys') },
  ]);
  return (
    <>
      <button
        type="button"
        onClick={() => setOpen('find')}
        className="flex w-44 items-center justify-between rounded-lg border border-line px-3 py-1 text-muted hover:text-ink max-md:w-auto"
        aria-keyshortcuts="/"
      >
        <span className="max-md:sr-only">Find anything</span>
        <kbd className="font-mono text-[12px]">/</kbd>
      </button>
      <Dialog.Root open={open !== null} onOpenChange={(next) => setOpen(next ? 'find' : null)}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-30 bg-black/40" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-[12dvh] left-1/2 z-40 w-[min(600px,94vw)] -translate-x-1/2 rounded-2xl border border-line bg-sheet p-3 shadow-xl"
          >
            <Dialog.Title className={open === 'keys' ? 'px-2 pb-2 text-[18px] font-semibold' : 'sr-only'}>
              {open === 'keys' ? 'Keys' : 'Find anything'}
            </Dialog.Title>
            {open === 'keys' ? (
              <KeyList />
            ) : (
              <Suspense>
                <Search onDone={() => setOpen(null)} />
              </Suspense>
            )}
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}
