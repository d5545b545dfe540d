/** What holds where nothing else is said. */
export const DefaultMark = () => (
  <span
    className="ml-1.5 rounded-full border border-line px-2 text-[12px] font-normal text-muted"
    title="Holds where nothing else is said"
  >
    default
  </span>
);
