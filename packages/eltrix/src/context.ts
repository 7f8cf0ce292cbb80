/** Values from an element's surroundings: from its ancestors, and from the page. */
export { readConfiguration } from './context/configuration.ts';
export { ask, type Context, context, offer } from './context/context.ts';
