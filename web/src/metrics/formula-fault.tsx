import { ApiError } from '../api/client';

/** Where the formula is wrong, marked in its text. */
export function FormulaFault({
  formula,
  error,
  onSuggest,
}: {
  formula: string;
  error: ApiError;
  onSuggest: (formula: string) => void;
}) {
  const suggestion = /did you mean (.+)\?$/.exec(error.message)?.[1];
  const bytes = new TextEncoder().encode(formula);
  const cut = (from: number, to?: number) => new TextDecoder().decode(bytes.slice(from, to));
  const offset = error.offset ?? 0;
  const end = offset + (error.length ?? 0);
  return (
    <div role="alert" className="mt-2 rounded-lg border border-critical/40 bg-sheet px-3 py-2">
      {error.offset !== undefined && (
        <code className="font-mono text-[13px] break-all">
          {cut(0, offset)}
          <mark className="border-b-2 border-critical bg-transparent font-semibold text-critical">{cut(offset, end) || '⌄'}</mark>
          {cut(end)}
        </code>
      )}
      <p className="text-critical">
        {error.message}{' '}
        {suggestion && error.offset !== undefined && (
          <button
            type="button"
            className="font-semibold underline"
            onClick={() => onSuggest(cut(0, offset) + cut(offset, end).replace(/^[\w:]+/, suggestion) + cut(end))}
          >
            Use it
          </button>
        )}
      </p>
    </div>
  );
}
