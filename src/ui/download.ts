/** Spreadsheets run cells that begin like formulas; a leading apostrophe keeps them text. Numbers stay numbers. */
function safeCell(cell: string | number): string {
  if (typeof cell === "number") return String(cell);
  const text = /^[=+\-@\t\r]/.test(cell) && !/^[+-]?\d*\.?\d+(e[+-]?\d+)?$/i.test(cell) ? `'${cell}` : cell;
  return /[",\n\r]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
}

export const toCsv = (rows: readonly (readonly (string | number)[])[]): string => rows.map((r) => r.map(safeCell).join(",")).join("\r\n") + "\r\n";

export function downloadUrl(url: string, name: string): void {
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
}

export function downloadCsv(name: string, rows: readonly (readonly (string | number)[])[]): void {
  const url = URL.createObjectURL(new Blob(["\uFEFF", toCsv(rows)], { type: "text/csv" }));
  downloadUrl(url, name);
  setTimeout(() => URL.revokeObjectURL(url), 10000);
}
