import clsx from 'clsx';
import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

/** A sheet over the page; Escape and the world outside close it. */
export function DialogBox({
  open,
  onOpenChange,
  title,
  trigger,
  children,
  wide = 560,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  trigger?: ReactNode;
  children: ReactNode;
  wide?: number;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      {trigger && <Dialog.Trigger asChild>{trigger}</Dialog.Trigger>}
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          style={{ width: `min(${wide}px, 94vw)` }}
          className={clsx(
            'fixed top-1/2 left-1/2 z-40 max-h-[92dvh] -translate-x-1/2 -translate-y-1/2 overflow-y-auto',
            'rounded-2xl border border-line bg-sheet p-6 shadow-xl',
          )}
        >
          <Dialog.Title className="mb-4 text-[18px] font-semibold">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
