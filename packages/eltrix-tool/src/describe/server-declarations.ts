/** The types of `server.js`, for projects that only have the built files. */
export const serverDeclarations = `export * from './all.js';

/** Options of rendering. */
export interface RenderOptions {
  /** How styles are sent: in each root, as links to the built style sheets, or not at all. */
  readonly styles?: 'inline' | 'linked' | 'none';
  /** The address of the built files in pages. */
  readonly base?: string;
  /** Takes what went wrong; without it the first error is thrown. */
  readonly onError?: (error: Error) => void;
  /** How long answers to requests are awaited, in milliseconds. */
  readonly wait?: number;
}
export interface ElementOptions<E> extends RenderOptions {
  readonly attributes?: Readonly<Record<string, string | number | boolean | null | undefined>>;
  readonly properties?: Partial<E>;
  readonly content?: string;
}
/** A page in which every element has its view; every other byte is as it was. */
export declare function renderPage(html: string, options: RenderOptions & { readonly wait: number }): Promise<string>;
export declare function renderPage(html: string, options?: RenderOptions): string;
/** The same as a stream. */
export declare function renderPageStream(html: string, options?: RenderOptions): ReadableStream<Uint8Array>;
/** One element as HTML. */
export declare function renderElement<E extends HTMLElement>(
  Class: new () => E,
  options: ElementOptions<E> & { readonly wait: number },
): Promise<string>;
export declare function renderElement<E extends HTMLElement>(Class: new () => E, options?: ElementOptions<E>): string;
export declare function renderElementStream<E extends HTMLElement>(
  Class: new () => E,
  options?: ElementOptions<E>,
): ReadableStream<Uint8Array>;
/** The style sheets that linked styles lead to, by file name. */
export declare function styleFiles(): Record<string, string>;
`;
