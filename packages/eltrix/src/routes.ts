/** Elements in an outlet, by the page's address. */
export {
  type Place,
  type Route,
  type RouteParameters,
  type Router,
  type RouterOptions,
  routes,
} from './routes/routes.ts';
