/** Which routes an address leads to. */

export type RouteParameters = Readonly<Record<string, string>>;

export interface Route {
  /** A path as URLPattern has it, below that of its parent: `/hives/:name`. `*` is what no other matches. */
  readonly path: string;
  /** The tag of the element that stands in the outlet; its parameters become properties, else attributes. */
  readonly element?: string;
  /** Imports what defines the element, the first time. */
  readonly load?: () => Promise<unknown>;
  /** The page's title; without one on any route it is the title that the page had at first. */
  readonly title?: string | ((parameters: RouteParameters) => string);
  /** Goes elsewhere instead: a path with the same parameters. Query and fragment of the address are kept. */
  readonly redirect?: string;
  /** Names of the query that are parameters, too: `['page', 'sort']`. */
  readonly query?: readonly string[];
  /**
   * Asked before its element goes or gets other path parameters; false stays. Before the page is closed or loaded again
   * only an answer that comes at once counts.
   */
  readonly leave?: (element: HTMLElement, to: URL) => boolean | Promise<boolean>;
  /** Makes a new element for other path parameters; without it the element stays and gets them. */
  readonly fresh?: boolean;
  /** Resolves when the element shows what it has to: the scroll position of the way back is restored then. */
  readonly ready?: (element: HTMLElement) => Promise<unknown>;
  /** What stands in the outlet of its element: the first `[data-outlet]` in it or in its shadow root. */
  readonly children?: readonly Route[];
}

export interface Match {
  /** The routes that matched, from the outermost. */
  readonly routes: readonly Route[];
  readonly parameters: RouteParameters;
  /** By route: its path parameters and those around it, as one text. It distinguishes elements. */
  readonly keys: readonly string[];
}

interface Pattern {
  exec(input: { pathname: string }): { pathname: { groups: Record<string, string | undefined> } } | null;
}

/** A way to an element: the routes from the outermost, and the pattern of them all. */
interface Way {
  readonly routes: readonly Route[];
  /** By route: the names in its path and those around it. */
  readonly names: readonly (readonly string[])[];
  readonly path: string;
  readonly pattern: Pattern;
}

const namesIn = (path: string): string[] => [...path.matchAll(/:(\w+)/g)].map(([, name]) => name!);

/** Each route's way, those of its children first. */
function waysOf(
  routes: readonly Route[],
  before: string,
  around: readonly Route[],
  names: readonly (readonly string[])[],
): Way[] {
  const { URLPattern } = globalThis as unknown as { URLPattern?: new (init: { pathname: string }) => Pattern };
  if (!URLPattern)
    throw new Error(
      __DEV__
        ? '(pattern-missing): This engine has no URLPattern. Load a script that adds it, before routes() is called.'
        : 'pattern-missing',
    );
  return routes.flatMap(route => {
    const path = `${before}/${route.path}`.replace(/\/+/g, '/').replace(/(.)\/$/, '$1');
    const own = [...around, route];
    const ownNames = [...names, namesIn(path)];
    return [
      ...waysOf(route.children ?? [], path, own, ownNames),
      { routes: own, names: ownNames, path, pattern: new URLPattern({ pathname: path }) },
    ];
  });
}

/** @returns what finds the routes of a path, with a slash at its beginning and none at its end, and of a query. */
export function matcher(routes: readonly Route[]): (path: string, query: URLSearchParams) => Match | undefined {
  // What no other matches comes last.
  const isLast = ({ path }: Way) => +path.endsWith('*');
  const ways = waysOf(routes, '', [], []).sort((a, b) => isLast(a) - isLast(b));
  return (path, query) => {
    for (const { routes, names, pattern } of ways) {
      const parameters = parametersOf(pattern, path);
      if (!parameters) continue;
      const keys = names.map(list => JSON.stringify(list.map(name => parameters[name])));
      for (const name of routes.flatMap(({ query = [] }) => query)) {
        const value = query.get(name);
        if (value !== null) parameters[name] = value;
      }
      return { routes, parameters, keys };
    }
    return undefined;
  };
}

/** @returns undefined for a path that the pattern does not match, or whose parameters are malformed: `/a/100%`. */
function parametersOf(pattern: Pattern, pathname: string): Record<string, string> | undefined {
  const found = pattern.exec({ pathname });
  if (!found) return undefined;
  const parameters: Record<string, string> = {};
  try {
    for (const [name, value] of Object.entries(found.pathname.groups))
      if (value !== undefined && Number.isNaN(+name)) parameters[name] = decodeURIComponent(value);
  } catch {
    return undefined;
  }
  return parameters;
}
