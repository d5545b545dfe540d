import { useWindowVirtualizer } from '@tanstack/react-virtual';
import clsx from 'clsx';
import { type KeyboardEvent, type ReactNode, memo, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type Column, type Sort, type TableRow, nextSort, sorted, tableRows } from './rows';
import { useHiddenColumns } from './columns';

type Props<T> = {
  label: string;
  columns: readonly Column<T>[];
  rows: readonly T[];
  idOf: (row: T) => number;
  nameOf: (row: T) => string;
  sort: Sort;
  onSort: (sort: Sort) => void;
  /** Rows of one group stand together, the groups by their names. */
  groupOf?: (row: T) => string;
  groupWords?: (members: T[]) => ReactNode;
  chosen?: ReadonlySet<number>;
  onChoose?: (chosen: ReadonlySet<number>) => void;
  onOpen?: (row: T) => void;
  /** Which columns one does not want to see is remembered under this name. */
  remembered: string;
  rowHeight: number;
  empty: ReactNode;
};
const GROUP_HEIGHT = 30;

/**
 * A long list: only the rows in sight are there. Sorted by any column both ways, grouped, many chosen at once; arrows move
 * from row to row, the space bar chooses, Enter opens.
 */
export function Table<T>(props: Props<T>) {
  const { label, columns, rows, idOf, sort, onSort, groupOf, chosen, onChoose, remembered, empty } = props;
  const hidden = useHiddenColumns(remembered, columns);
  const shown = useMemo(() => columns.filter((column) => !hidden.has(column.name)), [columns, hidden]);
  const lines = useMemo(() => tableRows(sorted(rows, columns, sort), groupOf), [rows, columns, sort, groupOf]);
  const ids = useMemo(() => rows.map(idOf), [rows, idOf]);
  const tracks = [...(onChoose ? ['18px'] : []), ...shown.map((column) => column.track)].join(' ');
  return (
    <div role="grid" aria-label={label} aria-rowcount={lines.length + 1} aria-multiselectable={onChoose ? true : undefined}>
      <div role="rowgroup">
        <div
          role="row"
          aria-rowindex={1}
          className="grid items-center gap-x-3 px-3 py-2 text-muted"
          style={{ gridTemplateColumns: tracks }}
        >
          {onChoose && (
            <span role="columnheader">
              <input
                type="checkbox"
                aria-label="Choose all that are shown"
                checked={ids.length > 0 && ids.every((id) => chosen?.has(id))}
                onChange={(event) => onChoose(new Set(event.target.checked ? ids : []))}
              />
            </span>
          )}
          {shown.map((column) => (
            <Head key={column.name} column={column} sort={sort} onSort={onSort} />
          ))}
        </div>
      </div>
      {lines.length === 0 ? empty : <Body {...props} lines={lines} columns={shown} tracks={tracks} />}
    </div>
  );
}

function Head<T>({ column, sort, onSort }: { column: Column<T>; sort: Sort; onSort: (sort: Sort) => void }) {
  const isSorted = sort.by === column.name;
  return (
    <span
      role="columnheader"
      title={column.title}
      aria-sort={!column.compare ? undefined : isSorted ? (sort.down ? 'descending' : 'ascending') : 'none'}
      className={clsx('truncate', column.right && 'text-right')}
    >
      {column.compare ? (
        <button
          type="button"
          onClick={() => onSort(nextSort(sort, column))}
          className={clsx('hover:text-ink', isSorted && 'font-semibold text-ink')}
        >
          {column.label}
          {isSorted && <span aria-hidden="true"> {sort.down ? '↓' : '↑'}</span>}
        </button>
      ) : (
        column.label
      )}
    </span>
  );
}

type BodyProps<T> = Props<T> & { lines: TableRow<T>[]; tracks: string };
function Body<T>({ lines, columns, tracks, idOf, nameOf, groupWords, chosen, onChoose, onOpen, rowHeight }: BodyProps<T>) {
  const host = useRef<HTMLDivElement>(null);
  const [offset, setOffset] = useState(0);
  const [active, setActive] = useState(0);
  useEffect(() => setOffset(host.current?.offsetTop ?? 0), []);
  const virtual = useWindowVirtualizer({
    count: lines.length,
    estimateSize: (i) => (lines[i]?.kind === 'group' ? GROUP_HEIGHT : rowHeight),
    overscan: 8,
    scrollMargin: offset,
    getItemKey: (i) => {
      const line = lines[i]!;
      return line.kind === 'group' ? `group ${line.name}` : idOf(line.row);
    },
  });
  const choose = useCallback(
    (id: number) => onChoose?.(new Set(chosen?.has(id) ? [...chosen].filter((one) => one !== id) : [...(chosen ?? []), id])),
    [chosen, onChoose],
  );
  const move = (to: number, by: 1 | -1) => {
    let at = Math.max(0, Math.min(lines.length - 1, to));
    while (lines[at]?.kind === 'group' && lines[at + by]) at += by;
    setActive(at);
    virtual.scrollToIndex(at, { align: 'auto' });
    requestAnimationFrame(() => host.current?.querySelector<HTMLElement>(`[data-index="${at}"]`)?.focus({ preventScroll: true }));
  };
  const keys = (event: KeyboardEvent) => {
    const line = lines[active];
    if (event.target instanceof HTMLElement && event.target.getAttribute('role') !== 'row') return;
    if (event.key === 'ArrowDown') move(active + 1, 1);
    else if (event.key === 'ArrowUp') move(active - 1, -1);
    else if (event.key === 'Home') move(0, 1);
    else if (event.key === 'End') move(lines.length - 1, -1);
    else if (event.key === ' ' && onChoose && line?.kind === 'row') choose(idOf(line.row));
    else if (event.key === 'Enter' && onOpen && line?.kind === 'row') onOpen(line.row);
    else return;
    event.preventDefault();
  };
  return (
    <div ref={host} role="rowgroup" className="relative" style={{ height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map((item) => {
        const line = lines[item.index]!;
        const isChosen = line.kind === 'row' && chosen?.has(idOf(line.row));
        return (
          <div
            key={item.key}
            role="row"
            data-index={item.index}
            aria-rowindex={item.index + 2}
            aria-selected={onChoose && line.kind === 'row' ? isChosen : undefined}
            tabIndex={item.index === active ? 0 : -1}
            onFocus={() => setActive(item.index)}
            onKeyDown={keys}
            className="absolute top-0 left-0 w-full border-t border-line -outline-offset-2 [contain:strict]"
            style={{ transform: `translateY(${item.start - virtual.options.scrollMargin}px)`, height: item.size }}
          >
            {line.kind === 'group' ? (
              <div role="gridcell" className="h-full truncate bg-future px-3 py-1 font-semibold">
                {line.name} <span className="font-normal text-muted">{line.members.length}</span>
                {groupWords && <span className="ml-3 font-normal">{groupWords(line.members)}</span>}
              </div>
            ) : (
              <Cells
                row={line.row}
                columns={columns}
                tracks={tracks}
                chosen={isChosen ?? false}
                name={nameOf(line.row)}
                id={idOf(line.row)}
                onChoose={onChoose && choose}
              />
            )}
          </div>
        );
      })}
    </div>
  );
}

type CellsProps = {
  // What a row is, its columns know.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  row: any;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  columns: readonly Column<any>[];
  tracks: string;
  chosen: boolean;
  name: string;
  id: number;
  onChoose?: (id: number) => void;
};
/** Drawn again only when the row or its columns change; a cell that moves with the clock looks at the clock itself. */
const Cells = memo(function Cells({ row, columns, tracks, chosen, name, id, onChoose }: CellsProps) {
  return (
    <div
      className={clsx('grid h-full items-center gap-x-3 px-3', chosen && 'bg-accent-soft')}
      style={{ gridTemplateColumns: tracks }}
    >
      {onChoose && (
        <span role="gridcell">
          <input type="checkbox" aria-label={`Choose ${name}`} checked={chosen} onChange={() => onChoose(id)} />
        </span>
      )}
      {columns.map((column) => (
        <span key={column.name} role="gridcell" className={clsx('min-w-0', column.right && 'truncate text-right')}>
          {column.cell(row)}
        </span>
      ))}
    </div>
  );
});
