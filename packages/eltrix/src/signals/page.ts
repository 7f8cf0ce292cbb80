/**
 * What elements find on the page that have no graph of their own (`element/lean`): whoever reads their properties in an
 * effect is told of changes, and a batch shows them before it returns. It is there once something has brought a graph.
 */
export interface PageGraph {
  /** A property of an element is read. */
  read(host: object, name: string): void;
  /** It has changed. */
  wrote(host: object, name: string): void;
  /** It is about to be set. @throws Error inside a computed. */
  refuseInComputed(): void;
  /** Runs a function after this task, or at the end of the batch that is on. */
  soon(react: () => void): void;
}

const key: unique symbol = Symbol.for('eltrix.page.1') as never;

/**
 * One for the page, made by whoever comes first; the graph of the first copy of this library counts. Looking for a name
 * that the global object does not have is slow, so this is looked up once.
 */
export const page: { graph?: PageGraph } = ((globalThis as unknown as Record<symbol, { graph?: PageGraph }>)[key] ??=
  {});
