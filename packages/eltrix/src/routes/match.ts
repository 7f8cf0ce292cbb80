/** Matches paths with routes. */

export type RouteParameters = Readonly<Record<string, string>>;

export interface Route {
  /** A URLPattern path below the parent's path: `/hives/:name`. `*` matches paths that no other route matches. */
  readonly path: string;
  /**
   * The tag of the element in the outlet. Path parameters are set as properties, or as attributes if it has no such
   * properties.
   */
  readonly element?: string;
  /** Imports the module that defines the element; called the first time. */
  readonly load?: () => Promise<unknown>;
  /** The page's title. If no matched route has a title, the page keeps its initial one. */
  readonly title?: string | ((parameters: RouteParameters) => string);
  /** Redirects to a path with the same parameters. Query and fragment are kept. */
  readonly redirect?: string;
  /** Query parameters that are passed like path parameters: `['page', 'sort']`. */
  readonly query?: readonly string[];
  /**
   * A guard, called before the element is removed or gets other path parameters; false cancels the navigation. When
   * the page is closed or reloaded, only a synchronous answer counts.
   */
  readonly leave?: (element: HTMLElement, to: URL) => boolean | Promise<boolean>;
  /** Creates a new element for other path parameters. Without it the element is kept and gets the new parameters. */
  readonly fresh?: boolean;
  /** Resolves when the element shows its content: then the scroll position is restored after a step back. */
  readonly ready?: (element: HTMLElement) => Promise<unknown>;
  /** Routes inside its element: they use the first `[data-outlet]` in it or in its shadow root. */
  readonly children?: readonly Route[];
}

export interface Match {
  /** The matched routes, outermost first. */
  readonly routes: readonly Route[];
  readonly parameters: RouteParameters;
  /** For each route: its path parameters and those of its parents, as one text, to compare elements. */
  readonly keys: readonly string[];
}

interface Pattern {
  exec(input: { pathname: string }): { pathname: { groups: Record<string, string | undefined> } } | null;
}

/** A sequence of nested routes, outermost first, with their joined pattern. */
interface Way {
  readonly routes: readonly Route[];
  /** For each route: the parameter names in its path and those of its parents. */
  readonly names: readonly (readonly string[])[];
  readonly path: string;
  readonly pattern: Pattern;
}

const namesIn = (path: string): string[] => [...path.matchAll(/:(\w+)/g)].map(([, name]) => name!);

/** The sequences of all routes, children first. */
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

/** @returns a function that matches a path (with a leading slash, without a trailing one) and a query. */
export function matcher(routes: readonly Route[]): (path: string, query: URLSearchParams) => Match | undefined {
  // `*` is tried last.
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

/** @returns undefined for a path that does not match, or with malformed parameters: `/a/100%`. */
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
