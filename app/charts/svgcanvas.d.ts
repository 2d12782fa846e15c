/** What is used of svgcanvas; the package ships no types. */
declare module 'svgcanvas' {
  /** A canvas context that writes down what is drawn as SVG. */
  export class Context {
    constructor(options: { width: number; height: number; document?: Document })
    /** @param fixNamedEntities whether named entities are written as numbers */
    getSerializedSvg(fixNamedEntities?: boolean): string
  }
}
