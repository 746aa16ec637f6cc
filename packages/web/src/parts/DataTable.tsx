import { Box, Menu, Table } from '@chakra-ui/react';
import {
  columnVisibilityFeature,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Columns3 } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { keep, readKept } from '../app/kept.ts';
import { IconAction } from './IconAction.tsx';
import { MainPortal } from './MainPortal.tsx';
import { useOrder, type Sorts } from './useOrder.ts';

/** One column of a table of things of type `T`. */
export interface Column<T> {
  /** Names it in what is kept, and in its heading where that is no other. */
  readonly title: string;
  /** Stands above it instead of its title; then it is neither sorted nor hidden. */
  readonly heading?: ReactNode;
  readonly cell: (row: T) => ReactNode;
  /** True for figures, which stand in one line. */
  readonly figures?: boolean;
  /** True where the table makes no sense without it. */
  readonly fixed?: boolean;
}

interface Props<T> {
  /** Under which the choice of columns is kept. */
  readonly name: string;
  /** Those that have come, in their order. */
  readonly rows: readonly T[];
  /** How many there are. */
  readonly total: number;
  /** Called when more of them are needed than have come. */
  readonly onMore: () => void;
  /** Columns that it can be sorted by. */
  readonly sorts: Sorts;
  readonly columns: readonly Column<T>[];
  readonly idOf: (row: T) => string;
  /** What a row of the table carries beside its cells. */
  readonly rowProps?: (row: T) => Readonly<Record<string, string | undefined>>;
  /** A row that is shown in another way, from its first cell to its last; undefined for the usual one. */
  readonly whole?: (row: T, columns: number) => ReactNode;
}

/** From so many rows on only those in sight are there. */
const MANY = 150;
/** Pixels of a row before it was measured. */
const ROW_HEIGHT = 44;

const features = tableFeatures({ rowSortingFeature, columnVisibilityFeature });

/**
 * Rows that the server has sorted by any column, with the columns that one wants to see; of thousands, those in sight are
 * there, and come when they are gone to.
 */
export function DataTable<T extends object>(props: Props<T>) {
  const { name, rows, total, onMore, sorts, columns, idOf, rowProps, whole } = props;
  const { by, sortBy } = useOrder(sorts);
  const [hidden, setHidden] = useState(() => hiddenColumns(name));
  const definitions = useMemo(
    () => columns.map(({ title }): ColumnDef<typeof features, T> => ({ id: title, enableSorting: title in sorts })),
    [columns, sorts],
  );
  const data = useMemo(() => [...rows], [rows]);
  const table = useTable({
    features,
    data,
    columns: definitions,
    getRowId: idOf,
    manualSorting: true,
    state: {
      sorting: by ? [{ id: by.title, desc: by.desc }] : [],
      columnVisibility: Object.fromEntries([...hidden].map((title) => [title, false])),
    },
  });
  const here = table.getRowModel().rows.map(({ original }) => original);
  const shown = columns.filter(({ title }) => !hidden.has(title));
  const switchColumn = (title: string) => {
    const next = new Set(hidden);
    if (!next.delete(title)) next.add(title);
    setHidden(next);
    keep(keyOf(name), JSON.stringify([...next]));
  };
  const frame = useRef<HTMLTableElement>(null);
  const many = total > MANY;
  // Here and not in a part of the table: what scrolls is known once the table itself is there.
  const virtualizer = useVirtualizer({
    count: many ? total : 0,
    getScrollElement: () => frame.current?.parentElement ?? null,
    estimateSize: () => ROW_HEIGHT,
    getItemKey: (index) => (index < here.length ? idOf(here[index]) : index),
    overscan: 12,
  });
  const inSight = virtualizer.getVirtualItems();
  const lacking = (many ? (inSight.at(-1)?.index ?? 0) : total - 1) >= here.length;
  useEffect(() => {
    if (lacking) onMore();
  }, [lacking, onMore, here.length]);
  const room = (height: number) =>
    height > 0 && (
      <tr aria-hidden style={{ height }}>
        <td colSpan={shown.length} />
      </tr>
    );
  const row = (one: T, measured?: { readonly index: number; readonly measure: (node: Element | null) => void }) =>
    whole?.(one, shown.length) ?? (
      <Table.Row
        key={idOf(one)}
        bg="transparent"
        {...(measured
          ? { ref: measured.measure, 'data-index': measured.index, 'aria-rowindex': measured.index + 2 }
          : {})}
        {...rowProps?.(one)}
      >
        {shown.map(({ title, cell, figures }) => (
          <Table.Cell key={title} borderColor="rule" {...(figures ? { fontFamily: 'mono', whiteSpace: 'nowrap' } : {})}>
            {cell(one)}
          </Table.Cell>
        ))}
      </Table.Row>
    );
  return (
    <Table.Root ref={frame} size="sm" variant="line" stickyHeader aria-rowcount={many ? total + 1 : undefined}>
      <Table.Header>
        <Table.Row bg="paper">
          {shown.map(({ title, heading, fixed }, n) => {
            const sort = by?.title === title ? by : undefined;
            return (
              <Table.ColumnHeader
                key={title}
                color="faded"
                aria-sort={sort ? (sort.desc ? 'descending' : 'ascending') : undefined}
              >
                {heading ??
                  (title in sorts ? (
                    <button type="button" style={{ minHeight: 24 }} onClick={() => sortBy(title)}>
                      {title} {sort && (sort.desc ? '▾' : '▴')}
                    </button>
                  ) : (
                    title
                  ))}
                {fixed && n === shown.length - 1 && (
                  // Out of the line of the headings, which it is higher than.
                  <Box position="absolute" right="2" top="50%" transform="translateY(-50%)">
                    <ColumnMenu columns={columns} hidden={hidden} onSwitch={switchColumn} />
                  </Box>
                )}
              </Table.ColumnHeader>
            );
          })}
        </Table.Row>
      </Table.Header>
      <Table.Body fontVariantNumeric="tabular-nums">
        {many ? (
          <>
            {room(inSight[0]?.start ?? 0)}
            {inSight.map(({ index }) =>
              index < here.length ? (
                row(here[index], { index, measure: virtualizer.measureElement })
              ) : (
                <tr key={index} aria-hidden style={{ height: ROW_HEIGHT }}>
                  <td colSpan={shown.length}>…</td>
                </tr>
              ),
            )}
            {room(virtualizer.getTotalSize() - (inSight.at(-1)?.end ?? 0))}
          </>
        ) : (
          here.map((one) => row(one))
        )}
      </Table.Body>
    </Table.Root>
  );
}

interface MenuProps<T> {
  readonly columns: readonly Column<T>[];
  readonly hidden: ReadonlySet<string>;
  readonly onSwitch: (title: string) => void;
}

function ColumnMenu<T>({ columns, hidden, onSwitch }: MenuProps<T>) {
  return (
    <Menu.Root closeOnSelect={false}>
      <Menu.Trigger asChild>
        <IconAction label="Choose columns" size="2xs">
          <Columns3 size={14} />
        </IconAction>
      </Menu.Trigger>
      <MainPortal>
        <Menu.Positioner>
          <Menu.Content bg="sheet">
            {columns
              .filter(({ fixed, heading }) => !fixed && heading === undefined)
              .map(({ title }) => (
                <Menu.CheckboxItem
                  key={title}
                  value={title}
                  checked={!hidden.has(title)}
                  onCheckedChange={() => onSwitch(title)}
                >
                  <Menu.ItemIndicator />
                  {title}
                </Menu.CheckboxItem>
              ))}
          </Menu.Content>
        </Menu.Positioner>
      </MainPortal>
    </Menu.Root>
  );
}

const keyOf = (name: string) => `hexenkessel.columns.${name}`;

function hiddenColumns(name: string): ReadonlySet<string> {
  try {
    const kept: unknown = JSON.parse(readKept(keyOf(name)) ?? '[]');
    return new Set(Array.isArray(kept) ? kept.filter((title) => typeof title === 'string') : []);
  } catch {
    return new Set();
  }
}
