declare module "svgcanvas" {
  interface SvgContext extends CanvasRenderingContext2D {
    getSerializedSvg(fixNamedEntities?: boolean): string;
  }
  /** A canvas whose context writes SVG. */
  export class Element {
    constructor(options: { width: number; height: number });
    readonly ctx: SvgContext;
  }
}
