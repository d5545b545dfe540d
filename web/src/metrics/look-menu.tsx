import { Popover } from 'radix-ui';
import { inputLook } from '../ui/controls';
import { HUES, lineHue } from '../ui/chart/hues';
import { isUsable } from './by-name';
import type { Look } from './look';

const HUE_NAMES = ['olive', 'blue', 'rust', 'plum', 'teal', 'ochre', 'crimson', 'slate'];

/** What a row is called on this page, in which colour its lines begin, and on which side its axis stands. `which`: such as `second formula`. */
export function LookMenu({
  which,
  look,
  hue,
  axis,
  unit,
  onChange,
}: {
  which: string;
  look: Look;
  hue: string;
  axis: 'left' | 'right';
  unit: string | undefined;
  onChange: (look: Look) => void;
}) {
  return (
    <Popover.Root>
      <Popover.Trigger className="flex w-32 shrink-0 items-center gap-2 rounded-lg px-1.5 py-1.5 text-left whitespace-nowrap hover:bg-future max-md:w-8">
        <span className="size-3 shrink-0 rounded-full" style={{ background: hue }} />
        <span className={look.name ? 'truncate font-semibold max-md:hidden' : 'truncate text-muted max-md:hidden'}>
          {look.name ?? 'name it'}
        </span>
        <span className="sr-only">: name, colour and axis of the {which}</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={`Look of the ${which}`}
          align="start"
          sideOffset={6}
          className="z-30 w-72 space-y-3 rounded-xl border border-line bg-sheet p-4 shadow-lg"
        >
          <label className="block">
            <span className="mb-1 block font-medium">Name</span>
            <input
              className={inputLook}
              defaultValue={look.name ?? ''}
              maxLength={40}
              placeholder="depth"
              aria-describedby={`use-${which}`}
              onBlur={(event) => onChange({ ...look, name: event.target.value.trim() || undefined })}
              onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
            />
            <span id={`use-${which}`} className="mt-1 block text-[13px] text-muted">
              {look.name && !isUsable(look.name)
                ? 'One word of letters and digits could be used in other rows.'
                : 'Other rows can use it by this name.'}
            </span>
          </label>
          <fieldset>
            <legend className="mb-1 font-medium">
              Colour of its {look.hue === undefined ? 'first line, by its place' : 'first line'}
            </legend>
            <div className="flex gap-1.5">
              {Array.from({ length: HUES }, (_, i) => (
                <button
                  key={i}
                  type="button"
                  aria-label={HUE_NAMES[i]}
                  title={HUE_NAMES[i]}
                  aria-pressed={look.hue === i}
                  onClick={() => onChange({ ...look, hue: look.hue === i ? undefined : i })}
                  className="size-7 rounded-full border-2 border-transparent p-0.5 aria-pressed:border-ink"
                >
                  <span className="block size-full rounded-full" style={{ background: lineHue(i) }} />
                </button>
              ))}
            </div>
          </fieldset>
          <fieldset>
            <legend className="mb-1 font-medium">Axis</legend>
            <div className="flex gap-4">
              {(['', 'left', 'right'] as const).map((side) => (
                <label key={side} className="flex items-center gap-1.5">
                  <input
                    type="radio"
                    name={`axis-${which}`}
                    checked={(look.axis ?? '') === side}
                    onChange={() => onChange({ ...look, axis: side || undefined })}
                  />
                  {side || `by its unit${unit ? `, ${unit}` : ''}: ${axis}`}
                </label>
              ))}
            </div>
          </fieldset>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
