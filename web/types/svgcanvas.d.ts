/** A drawing context that writes SVG. */
declare module 'svgcanvas' {
  export class Context {
    constructor(width: number, height: number);
    getSerializedSvg(fixNamedEntities?: boolean): string;
  }
}
