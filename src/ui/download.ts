import type { CsvCell } from "./table/csv";

export function downloadUrl(url: string, name: string): void {
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
}

export function downloadText(name: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  downloadUrl(url, name);
  setTimeout(() => URL.revokeObjectURL(url), 10000);
}

// The CSV library comes when something is saved.
export async function downloadCsv(name: string, rows: readonly (readonly CsvCell[])[]): Promise<void> {
  const { toCsv } = await import("./table/csv");
  downloadText(name, `\uFEFF${toCsv(rows)}`, "text/csv");
}

/** Puts rows on the clipboard so that a spreadsheet takes them cell by cell. */
export async function copyTable(rows: readonly (readonly CsvCell[])[]): Promise<void> {
  const { toTabs } = await import("./table/csv");
  await navigator.clipboard.writeText(toTabs(rows));
}

/** Saves a drawing as an SVG file of its own: colours of the theme are written out, so that it looks the same everywhere. */
export function downloadSvg(svg: SVGSVGElement, name: string): void {
  const style = getComputedStyle(document.documentElement);
  const copy = svg.cloneNode(true) as SVGSVGElement;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("viewBox", `0 0 ${svg.width.baseVal.value} ${svg.height.baseVal.value}`);
  copy.setAttribute("font-family", "sans-serif");
  copy.setAttribute("font-size", "12");
  for (const hit of copy.querySelectorAll("[data-slab]")) hit.remove();
  const text = new XMLSerializer()
    .serializeToString(copy)
    .replace(/var\((--[a-z0-9-]+)\)/g, (_, token: string) => style.getPropertyValue(token).trim() || "#000");
  downloadText(name, text, "image/svg+xml");
}
