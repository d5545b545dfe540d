import { DropdownMenu } from 'radix-ui';
import { Button } from '../ui/controls';
import { span } from '../ui/format';

/** For so long one may have it, beside until it is over. */
const SECONDS = [1_800, 7_200, 28_800] as const;

/** To have it until it is over, or for a time, after which its ladder begins anew. */
export function Acknowledge({ onDo, disabled }: { onDo: (forSeconds?: number) => void; disabled: boolean }) {
  return (
    <span className="flex gap-px">
      <Button look="ink" className="rounded-r-none" onClick={() => onDo()} disabled={disabled}>
        Acknowledge
      </Button>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger asChild>
          <Button look="ink" className="rounded-l-none px-2" aria-label="Acknowledge for a time" disabled={disabled}>
            ▾
          </Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="start"
            sideOffset={4}
            className="z-30 rounded-xl border border-line bg-sheet p-1 shadow-lg"
          >
            {SECONDS.map((seconds) => (
              <DropdownMenu.Item
                key={seconds}
                className="cursor-pointer rounded-lg px-3 py-1.5 data-highlighted:bg-future"
                onSelect={() => onDo(seconds)}
              >
                for {span(1_000 * seconds)}, then the ladder begins anew
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </span>
  );
}
