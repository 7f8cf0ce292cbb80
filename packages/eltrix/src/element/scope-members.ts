/** The methods of scopes, each as a part of the classes that use it. */
import { atScope, members } from './part.ts';
import type { Living, Part } from './plan.ts';
import { ConnectionScope, type Resource, type Scope } from './scope.ts';

/** A part that gives scopes a method. */
export function scopeMethod<Name extends Exclude<keyof Scope, 'signal'>>(
  name: Name,
  method: (this: ConnectionScope, ...given: Parameters<Scope[Name]>) => ReturnType<Scope[Name]>,
): Part<Living> {
  return {
    at: atScope,
    extend() {
      (ConnectionScope.prototype as Partial<Record<keyof Scope, unknown>>)[name] = method;
    },
  };
}

/** `scope.signal`. */
export const scopeSignalPart = /* @__PURE__ */ members(
  {
    signal: {
      get(this: ConnectionScope) {
        const controller = (this.controller ??= new AbortController());
        if (this.ended) controller.abort();
        return controller.signal;
      },
      configurable: true,
    },
  },
  ConnectionScope,
);

/** `scope.on()`. */
export const scopeOnPart = /* @__PURE__ */ scopeMethod(
  'on',
  function (
    this: ConnectionScope,
    target: EventTarget,
    type: string,
    handler: ((event: never) => unknown) | EventListenerObject,
    options?: AddEventListenerOptions | boolean,
  ) {
    const { once, signal } = Object(options) as AddEventListenerOptions;
    if (signal?.aborted || this.ended) return;
    const { host } = this;
    const listener = (event: Event) => {
      if (once) stop();
      if (typeof handler === 'function') handler.call(host, event as never);
      else handler.handleEvent(event);
    };
    target.addEventListener(type, listener, options);
    const stop = this.take(
      () => {
        target.removeEventListener(type, listener, options);
        signal?.removeEventListener('abort', stop);
      },
      __DEV__ ? `on ${type}` : '',
    );
    // An element that adds a listener for each drag does not collect them.
    signal?.addEventListener('abort', stop);
  },
);

/** `scope.every()`. */
export const scopeEveryPart = /* @__PURE__ */ scopeMethod(
  'every',
  function (this: ConnectionScope, ms: number, fn: () => void) {
    const timer = setInterval(() => fn.call(this.host), ms);
    return this.take(() => clearInterval(timer), __DEV__ ? `every ${ms} ms` : '');
  },
);

/** `scope.after()`. */
export const scopeAfterPart = /* @__PURE__ */ scopeMethod(
  'after',
  function (this: ConnectionScope, ms: number, fn: () => void) {
    const timer = setTimeout(() => {
      stop();
      fn.call(this.host);
    }, ms);
    const stop = this.take(() => clearTimeout(timer), __DEV__ ? `after ${ms} ms` : '');
    return stop;
  },
);

/** `scope.frame()`. */
export const scopeFramePart = /* @__PURE__ */ scopeMethod(
  'frame',
  function (this: ConnectionScope, fn: (time: number) => void) {
    const request = requestAnimationFrame(time => {
      stop();
      fn.call(this.host, time);
    });
    const stop = this.take(() => cancelAnimationFrame(request), __DEV__ ? 'a frame' : '');
    return stop;
  },
);

/** `scope.use()`. */
export const scopeUsePart = /* @__PURE__ */ scopeMethod('use', function (this: ConnectionScope, resource: Resource) {
  this.take(
    () => {
      if (typeof resource === 'function') resource();
      else if (Symbol.dispose !== undefined && Symbol.dispose in resource) (resource as Disposable)[Symbol.dispose]();
      else (resource as { dispose(): void }).dispose();
    },
    __DEV__ ? 'a resource' : '',
  );
  return resource;
});
