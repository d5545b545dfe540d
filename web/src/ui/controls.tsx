import clsx from 'clsx';
import {
  type ButtonHTMLAttributes,
  type InputHTMLAttributes,
  type ReactNode,
  type Ref,
  type SelectHTMLAttributes,
  type TextareaHTMLAttributes,
  createContext,
  useContext,
  useId,
} from 'react';

type Look = 'ink' | 'accent' | 'plain' | 'quiet';
export function Button({
  look = 'plain',
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look; ref?: Ref<HTMLButtonElement> }) {
  return (
    <button
      type="button"
      className={clsx(
        'inline-flex items-center justify-center gap-1.5 rounded-lg px-3.5 py-1.5 font-semibold whitespace-nowrap transition-colors duration-100',
        look === 'ink' && 'bg-ink text-paper hover:opacity-90',
        look === 'accent' && 'bg-accent text-sheet hover:opacity-90',
        look === 'plain' && 'border border-line bg-sheet hover:bg-future',
        look === 'quiet' && 'text-muted hover:text-ink px-2',
        className,
      )}
      {...rest}
    />
  );
}

export function Sheet({ children, className, label }: { children: ReactNode; className?: string; label?: string }) {
  return (
    <section aria-label={label} className={clsx('rounded-xl border border-line bg-sheet', className)}>
      {children}
    </section>
  );
}

/** What a field says of its control, so that its help and its error are heard with it. */
type FieldParts = { id?: string; 'aria-describedby'?: string; 'aria-invalid'?: true };
const FieldContext = createContext<FieldParts>({});
export const useFieldParts = () => useContext(FieldContext);

type FieldProps = { label: string; help?: ReactNode; error?: string; className?: string; children: ReactNode };
/** A control with its name, and below it what is wrong with it, or else what it is for. */
export function Field({ label, help, error, className, children }: FieldProps) {
  const id = useId();
  const note = `${id}-note`;
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block font-medium">
        {label}
      </label>
      <FieldContext
        value={{ id, 'aria-describedby': error || help ? note : undefined, 'aria-invalid': error ? true : undefined }}
      >
        {children}
      </FieldContext>
      {error ? (
        <p id={note} role="alert" className="mt-1 text-critical">
          {error}
        </p>
      ) : (
        help && (
          <p id={note} className="mt-1 text-[13px] text-muted">
            {help}
          </p>
        )
      )}
    </div>
  );
}

export const inputLook =
  'w-full rounded-lg border border-line bg-sheet px-3 py-1.5 text-ink placeholder:text-muted aria-invalid:border-critical';
export const smallLook = 'rounded-md border border-line bg-sheet px-1.5 py-0.5 text-ink';

export const Input = (props: InputHTMLAttributes<HTMLInputElement> & { ref?: Ref<HTMLInputElement> }) => (
  <input {...useFieldParts()} {...props} className={clsx(inputLook, props.className)} />
);
export const Select = (props: SelectHTMLAttributes<HTMLSelectElement> & { ref?: Ref<HTMLSelectElement> }) => (
  <select {...useFieldParts()} {...props} className={clsx(inputLook, props.className)} />
);
export const TextArea = (props: TextareaHTMLAttributes<HTMLTextAreaElement> & { ref?: Ref<HTMLTextAreaElement> }) => (
  <textarea {...useFieldParts()} {...props} className={clsx(inputLook, props.className)} />
);

/** A small table of label names and values, as words. */
export function labelWords(labels: Record<string, string>, hidden: string[] = []): string {
  return Object.entries(labels)
    .filter(([name]) => !hidden.includes(name))
    .map(([, value]) => value)
    .join(' · ');
}
