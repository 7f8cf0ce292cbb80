import { type Attachable, attach } from './element-expression.ts';
import { AttachedListening, type Handler } from './listener.ts';

/**
 * Adds a listener with options, among an element's attributes: `<div ${on('scroll', this.moved, { passive: true })}>`.
 * The listener is called with the element that owns the view as `this`.
 * @example markup`<div ${on('wheel', this.zoom, { passive: false })}></div>`
 */
export function on<Type extends keyof HTMLElementEventMap>(
  type: Type,
  handler: ((event: HTMLElementEventMap[Type]) => unknown) | EventListenerObject,
  options?: AddEventListenerOptions | boolean,
): object;
export function on<E extends Event = Event>(
  type: string,
  handler: ((event: E) => unknown) | EventListenerObject,
  options?: AddEventListenerOptions | boolean,
): object;
export function on(
  type: string,
  handler: ((event: never) => unknown) | EventListenerObject,
  options?: AddEventListenerOptions | boolean,
): object {
  return {
    [attach]: (element, owner, present) =>
      AttachedListening.of(present, element, type, handler as Handler, owner, options),
  } satisfies Attachable;
}
