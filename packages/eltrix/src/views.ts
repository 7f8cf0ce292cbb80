/** Parts of views for applications: errors, promises, animations, long lists, templates of the page. */
export { handleErrors, type ReportedError } from './views/errors.ts';
export { eachInView, type InViewOptions, type RowsInView } from './views/in-view.ts';
export { fromTemplate } from './views/item-template.ts';
export { entering, leaving, type Motion } from './views/leaving.ts';
export { type PromiseViews, promised } from './views/promised.ts';
export { type Fallback, region } from './views/region.ts';
