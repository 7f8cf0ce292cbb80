/** Elements in an outlet, by the page's URL. */
export type { Route, RouteParameters } from './routes/match.ts';
export type { OutletOptions } from './routes/outlets.ts';
export { currentRouter, type Outcome, type Place, type Router, type RouterOptions, routes } from './routes/routes.ts';
