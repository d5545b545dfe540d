import clsx from 'clsx';
import { Dialog } from 'radix-ui';
import { type ReactNode, createContext, useContext, useEffect, useRef, useState } from 'react';
import { Button } from './controls';

/** A form inside tells whether closing would lose what was typed. */
const ChangedContext = createContext<(changed: boolean) => void>(() => undefined);
export function useTellChanged(changed: boolean): void {
  const tell = useContext(ChangedContext);
  useEffect(() => {
    tell(changed);
    return () => tell(false);
  }, [tell, changed]);
}

type Props = {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  trigger?: ReactNode;
  children: ReactNode;
  wide?: number;
};

/** A sheet over the page; Escape and the world outside close it, after asking where something was typed. */
export function DialogBox({ open, onOpenChange, title, trigger, children, wide = 560 }: Props) {
  const changed = useRef(false);
  const [asks, setAsks] = useState(false);
  const [tell] = useState(() => (now: boolean) => {
    changed.current = now;
  });
  const change = (next: boolean) => {
    const asksFirst = !next && changed.current;
    setAsks(asksFirst);
    if (!asksFirst) onOpenChange(next);
  };
  return (
    <Dialog.Root open={open} onOpenChange={change}>
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
          {asks && (
            <LeaveQuestion
              onStay={() => setAsks(false)}
              onLeave={() => {
                setAsks(false);
                onOpenChange(false);
              }}
            />
          )}
          <ChangedContext value={tell}>{children}</ChangedContext>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Before what was typed is thrown away. */
function LeaveQuestion({ onStay, onLeave }: { onStay: () => void; onLeave: () => void }) {
  return (
    <div role="alert" className="mb-3 flex flex-wrap items-center gap-2 rounded-lg border border-minor/50 bg-sheet px-3 py-2">
      <span className="mr-auto">What you changed here is not kept yet.</span>
      {/* Whoever pressed Escape by chance presses Enter, and is where they were. */}
      <Button look="ink" onClick={onStay} ref={(button) => button?.focus()}>
        Go on writing
      </Button>
      <Button onClick={onLeave}>Throw it away</Button>
    </div>
  );
}
