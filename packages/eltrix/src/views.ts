/** Parts of views for applications: what fails, what comes late, what leaves, what is long, what the page gives. */
export { handleErrors, type ReportedError } from './views/errors.ts';
export { eachInView, type InViewOptions, type RowsInView } from './views/in-view.ts';
export { fromTemplate } from './views/item-template.ts';
export { entering, leaving, type Motion } from './views/leaving.ts';
export { type PromiseViews, promised } from './views/promised.ts';
export { type Fallback, region } from './views/region.ts';
