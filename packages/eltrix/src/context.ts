/** Values from around an element: of ancestors, and of the page that it stands in. */
export { readConfiguration } from './context/configuration.ts';
export { ask, type Context, context, offer } from './context/context.ts';
