import { type ReactNode, useEffect, useRef } from 'react';

/** Whoever opens the application begins at its top; after that, a new page takes the focus to its heading. */
let isFirstPage = true;

/**
 * The sentence a page opens with. The page has a title of its own, and readers of the screen hear the sentence again only
 * when what it says has changed: `means` leaves out what moves all the time.
 */
export function PageHead({ title, means, children }: { title: string; means?: string; children: ReactNode }) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    if (!isFirstPage) heading.current?.focus({ preventScroll: true });
    isFirstPage = false;
  }, []);
  return (
    <>
      <title>{`${title} · Olivine`}</title>
      <h1 ref={heading} tabIndex={-1} className="min-w-0 outline-none">
        {children}
      </h1>
      {means !== undefined && (
        <span role="status" className="sr-only">
          {means}
        </span>
      )}
    </>
  );
}
