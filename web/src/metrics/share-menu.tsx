import { DropdownMenu } from 'radix-ui';
import { toast } from 'sonner';
import type { ExportForm } from '../api/types';
import { Button } from '../ui/controls';
import { type Drawn, csvOf, pngOf, save, svgOf } from './picture';
import { sayFailure } from '../ui/say-failure';

/** What is seen, or all readings behind it, as a link, a picture or a file. */
export function ShareMenu({
  picture,
  exportOf,
  disabled,
}: {
  picture: () => Drawn;
  exportOf: (as: ExportForm) => string;
  disabled: boolean;
}) {
  const name = `olivine-${new Date().toISOString().slice(0, 16).replace(':', '')}`;
  const items: [string, () => void][] = [
    [
      'Copy the link',
      () =>
        void navigator.clipboard.writeText(location.href).then(
          () => toast('The link shows just this.'),
          () => toast.error('The browser does not let the link be copied; take it from the address bar.'),
        ),
    ],
    ['Picture, PNG', () => void pngOf(picture()).then((blob) => save(blob, `${name}.png`), sayFailure)],
    ['Picture, SVG', () => save(new Blob([svgOf(picture())], { type: 'image/svg+xml' }), `${name}.svg`)],
    ['What is seen, CSV', () => save(new Blob([csvOf(picture())], { type: 'text/csv' }), `${name}.csv`)],
    ['All readings, CSV', () => location.assign(exportOf('csv'))],
    ['All readings, JSON lines', () => location.assign(exportOf('jsonl'))],
    ['All readings, OpenMetrics', () => location.assign(exportOf('openmetrics'))],
  ];
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>
        <Button disabled={disabled}>Share</Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-30 min-w-52 rounded-xl border border-line bg-sheet p-1.5 shadow-lg"
        >
          {items.map(([label, act]) => (
            <DropdownMenu.Item
              key={label}
              onSelect={act}
              className="cursor-pointer rounded-lg px-3 py-1.5 data-highlighted:bg-future"
            >
              {label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
