import clsx from 'clsx';
import type { ButtonHTMLAttributes, InputHTMLAttributes, ReactNode, SelectHTMLAttributes } from 'react';

type Look = 'ink' | 'accent' | 'plain' | 'quiet';
export function Button({ look = 'plain', className, ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
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

export function Field({ label, help, error, children }: { label: string; help?: string; error?: string; children: ReactNode }) {
  return (
    <label className="block">
      <span className="mb-1 block font-medium">{label}</span>
      {children}
      {error ? (
        <span role="alert" className="mt-1 block text-critical">
          {error}
        </span>
      ) : (
        help && <span className="mt-1 block text-[13px] text-muted">{help}</span>
      )}
    </label>
  );
}

export const inputLook = 'w-full rounded-lg border border-line bg-sheet px-3 py-1.5 text-ink placeholder:text-muted';
export const Input = (props: InputHTMLAttributes<HTMLInputElement>) => (
  <input {...props} className={clsx(inputLook, props.className)} />
);
export const Select = (props: SelectHTMLAttributes<HTMLSelectElement>) => (
  <select {...props} className={clsx(inputLook, props.className)} />
);

/** A small table of label names and values, as words. */
export function labelWords(labels: Record<string, string>, hidden: string[] = []): string {
  return Object.entries(labels)
    .filter(([name]) => !hidden.includes(name))
    .map(([, value]) => value)
    .join(' · ');
}
