import { BasicPlatform, Chart as ChartJs, type ChartConfiguration } from "chart.js";
import { Element } from "svgcanvas";

/** A shade as the page's styles mix it, for programs that know no styles. */
export const plainColors = (svg: string): string =>
  svg.replace(
    /color-mix\(in srgb, #([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2}) (\d+)%, transparent\)/gi,
    (_, r: string, g: string, b: string, share: string) =>
      `rgba(${[r, g, b].map((h) => parseInt(h, 16)).join(",")},${Number(share) / 100})`,
  );

/** The same chart drawn once more as lines and letters, for print of any size. @param ground colour behind it */
export function chartSvg(
  configuration: ChartConfiguration<"line">,
  { width, height, ground }: { width: number; height: number; ground: string },
): string {
  const page = new Element({ width, height });
  const { ctx } = page;
  ctx.fillStyle = ground;
  ctx.fillRect(0, 0, width, height);
  const { options = {} } = configuration;
  const chart = new ChartJs(page as unknown as HTMLCanvasElement, {
    ...configuration,
    // Drawn at once, on what is no part of the page.
    platform: Still,
    options: {
      ...options,
      responsive: false,
      devicePixelRatio: 1,
      events: [],
      plugins: { ...options.plugins, zoom: false as never },
    },
  });
  const svg = plainColors(ctx.getSerializedSvg(true));
  chart.destroy();
  return svg;
}

class Still extends BasicPlatform {
  acquireContext(item: HTMLCanvasElement) {
    return item.getContext("2d")!;
  }
}
