"use client";

import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_basic,
  tableFeatures,
  useTable,
} from "@tanstack/react-table";
import { ArrowDown, ArrowUp, Copy, Download } from "lucide-react";
import dynamic from "next/dynamic";
import { useMemo, useRef, type ReactNode } from "react";
import { toast } from "../toast";
import { copyTable, downloadCsv } from "../download";
import type { CsvCell } from "./csv";
import { Button } from "../Button";

export interface TableColumn<Row> {
  id: string;
  /** Plain heading, also of the file. */
  title: string;
  /** What is drawn as heading when it is more than its title. */
  heading?: ReactNode;
  /** What the column sorts by, copies and saves. */
  value(row: Row): CsvCell;
  /** What is drawn; the value when left out. */
  cell?(row: Row): ReactNode;
  number?: boolean;
  /** Heads its row. */
  rowHeader?: boolean;
  sorts?: boolean;
  /** Classes of its cells. */
  place?: string;
  /** Buttons: neither copied nor saved, nor printed. */
  tools?: boolean;
}

const MANY = 120;

/** Few tables are so long that their rows wait to be scrolled to. */
const LongRows = dynamic(() => import("./LongRows").then((m) => m.LongRows), { ssr: false });

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, basic: sortFn_basic },
});

/** The one table of data: sorted by its headings, copied and saved whole, long ones drawn as they scroll into sight. */
export function DataTable<Row extends object>({
  label,
  file,
  columns,
  rows,
  height = 480,
  minWidth,
  many = MANY,
  marked,
}: {
  label: string;
  /** Name of the CSV without ending; without it the table offers none. */
  file?: string;
  columns: TableColumn<Row>[];
  rows: Row[];
  /** px; long tables scroll inside it. */
  height?: number;
  /** px; narrower screens scroll sideways. */
  minWidth?: number;
  /** Rows drawn at once before the rest wait to be scrolled to; fewer where a row is costly. */
  many?: number;
  /** Rows that stand out. */
  marked?(row: Row): boolean;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const defs = useMemo(() => {
    const helper = createColumnHelper<typeof features, Row>();
    return helper.columns(
      columns.map((c) =>
        helper.accessor((row) => c.value(row), {
          id: c.id,
          header: c.title,
          enableSorting: c.sorts ?? !c.tools,
          sortFn: c.number ? "basic" : "alphanumeric",
          sortUndefined: "last",
        }),
      ),
    );
  }, [columns]);
  const table = useTable({ features, columns: defs, data: rows });
  const sorted = table.getRowModel().rows;
  const byId = useMemo(() => new Map(columns.map((c) => [c.id, c])), [columns]);
  const long = sorted.length > many;
  const drawRow = (row: (typeof sorted)[number]) => (
    <tr key={row.id} className={marked?.(row.original) ? "bg-action-wash" : undefined}>
      {columns.map((c) => (
        <Cell key={c.id} column={c} row={row.original} />
      ))}
    </tr>
  );
  const filed = columns.filter((c) => !c.tools);
  const asCells = () => [filed.map((c) => c.title), ...sorted.map((r) => filed.map((c) => c.value(r.original)))];
  return (
    <div className="min-w-0">
      <div
        ref={scroller}
        className="relative overflow-auto"
        style={{ maxHeight: long ? height : undefined }}
        tabIndex={0}
        role="region"
        aria-label={label}
      >
        <table className="grid-table" style={{ minWidth }} aria-rowcount={sorted.length + 1}>
          <thead className={long ? "sticky top-0 bg-sheet" : undefined}>
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id}>
                {group.headers.map((header) => (
                  <Heading
                    key={header.id}
                    column={byId.get(header.column.id)!}
                    sorted={header.column.getIsSorted()}
                    onSort={header.column.getCanSort() ? () => header.column.toggleSorting() : null}
                  />
                ))}
              </tr>
            ))}
          </thead>
          <tbody>
            {long ? (
              <LongRows
                count={sorted.length}
                scroller={scroller}
                drawn={(from, to) => sorted.slice(from, to).map(drawRow)}
              />
            ) : (
              sorted.map(drawRow)
            )}
          </tbody>
        </table>
      </div>
      <Out file={file} rows={sorted.length} long={long} asCells={asCells} />
    </div>
  );
}

/** A table taken elsewhere: to the clipboard, or as a file. */
function Out({
  file,
  rows,
  long,
  asCells,
}: {
  file?: string;
  rows: number;
  long: boolean;
  asCells: () => Parameters<typeof copyTable>[0];
}) {
  const copy = () =>
    copyTable(asCells()).then(
      () => toast.success(`${rows} rows copied.`),
      () => toast.error("The browser does not let Bravel copy here. Save the CSV instead."),
    );
  return (
    <p className="no-print flex gap-2 pt-0.5 text-[12.5px]">
      <Button kind="plain" className="min-h-7" onClick={() => void copy()}>
        <Copy size={13} aria-hidden /> Copy
      </Button>
      {file && (
        <Button kind="plain" className="min-h-7" onClick={() => void downloadCsv(`${file}.csv`, asCells())}>
          <Download size={13} aria-hidden /> CSV
        </Button>
      )}
      {long && <span className="side self-center">{rows} rows</span>}
    </p>
  );
}

const ARIA_SORT = { asc: "ascending", desc: "descending" } as const;

function Heading<Row>({
  column,
  sorted,
  onSort,
}: {
  column: TableColumn<Row>;
  sorted: false | "asc" | "desc";
  onSort: (() => void) | null;
}) {
  const drawn = column.heading ?? column.title;
  const Arrow = sorted === "desc" ? ArrowDown : ArrowUp;
  return (
    <th scope="col" className={classes(column, false)} aria-sort={sorted ? ARIA_SORT[sorted] : undefined}>
      {onSort ? (
        <button
          type="button"
          className="inline-flex min-h-6 items-center gap-1 hover:bg-action-wash"
          title={`Sort by ${column.title}`}
          onClick={onSort}
        >
          {drawn}
          {sorted && <Arrow size={12} aria-hidden />}
        </button>
      ) : (
        drawn
      )}
    </th>
  );
}

function Cell<Row>({ column, row }: { column: TableColumn<Row>; row: Row }) {
  const drawn = column.cell ? column.cell(row) : column.value(row);
  if (column.rowHeader)
    return (
      <th scope="row" className={column.place}>
        {drawn}
      </th>
    );
  return <td className={classes(column, true)}>{drawn}</td>;
}

const classes = <Row,>({ number, tools, place }: TableColumn<Row>, body: boolean): string =>
  [number && "num", tools && "no-print", body && (place ?? "whitespace-nowrap")].filter(Boolean).join(" ");
