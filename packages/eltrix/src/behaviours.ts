/** Signals for an element's surroundings; each observes only while a view or an effect depends on it. */
export { clock } from './behaviours/clock.ts';
export { debounced } from './behaviours/debounced.ts';
export { media } from './behaviours/media.ts';
export {
  type Again,
  type Reader,
  type RequestOptions,
  type RequestSignal,
  type RequestState,
  request,
  type Send,
} from './behaviours/request.ts';
export { type RetryOptions, retry } from './behaviours/retry.ts';
export { shared, within } from './behaviours/send.ts';
export { type Size, type SizeOptions, watchSize } from './behaviours/size.ts';
export { lines, type ServerEvent, serverEvents } from './behaviours/streams.ts';
export {
  type Submission,
  type SubmissionBody,
  type SubmissionOptions,
  type SubmissionState,
  submission,
} from './behaviours/submission.ts';
export { watchTimings } from './behaviours/timings.ts';
export { type Tree, watchTree } from './behaviours/tree.ts';
export { type Visibility, watchVisibility, watchVisibilityOf } from './behaviours/visibility.ts';
