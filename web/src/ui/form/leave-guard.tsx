import { useBlocker } from '@tanstack/react-router';
import { DialogBox } from '../dialog-box';
import { Button } from '../controls';

/** Another page, or the end of this one, asks first while something is changed and not kept. Other views of the same page do not. */
export function LeaveGuard({ when }: { when: boolean }) {
  const blocked = useBlocker({
    shouldBlockFn: ({ current, next }) => when && current.pathname !== next.pathname,
    enableBeforeUnload: () => when,
    withResolver: true,
  });
  const isBlocked = blocked.status === 'blocked';
  return (
    <DialogBox open={isBlocked} onOpenChange={() => isBlocked && blocked.reset()} title="Leave without keeping it?" wide={420}>
      <p className="mb-4 text-muted">What you changed on this page is not kept yet.</p>
      <div className="flex justify-end gap-2">
        <Button look="ink" onClick={() => isBlocked && blocked.reset()}>
          Stay here
        </Button>
        <Button onClick={() => isBlocked && blocked.proceed()}>Leave</Button>
      </div>
    </DialogBox>
  );
}
