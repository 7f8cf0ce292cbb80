/** Assigns output and uncaught errors of a page to the running test. */
import { inspect } from './inspect.ts';

export interface Heard {
  /** The errors since the last call. */
  take(): { readonly errors: readonly unknown[]; readonly printed: readonly string[] };
  stop(): void;
}

type Level = 'log' | 'info' | 'warn' | 'error' | 'debug';
const levels: readonly Level[] = ['log', 'info', 'warn', 'error', 'debug'];

/** @param passOn whether output also goes to the console. */
export function hearErrors(passOn: boolean): Heard {
  let events: { readonly event: Event; readonly error: unknown }[] = [];
  let printed: string[] = [];
  const target = globalThis as unknown as EventTarget;
  const onError = (event: Event) => {
    const { error, message } = event as ErrorEvent;
    events.push({ event, error: error ?? new Error(message) });
  };
  const onRejection = (event: Event) => void events.push({ event, error: (event as PromiseRejectionEvent).reason });
  target.addEventListener?.('error', onError);
  target.addEventListener?.('unhandledrejection', onRejection);
  const real = new Map<Level, (...values: unknown[]) => void>();
  for (const level of levels) {
    const original = console[level];
    real.set(level, original);
    console[level] = (...values: unknown[]) => {
      if (passOn) original(...values);
      printed.push(
        `console.${level}: ${values.map(value => (typeof value === 'string' ? value : inspect(value))).join(' ')}`,
      );
    };
  }
  return {
    take() {
      // A test that expects an error prevents its default.
      const errors = events.filter(({ event }) => !event.defaultPrevented).map(({ error }) => error);
      const taken = { errors, printed };
      events = [];
      printed = [];
      return taken;
    },
    stop() {
      target.removeEventListener?.('error', onError);
      target.removeEventListener?.('unhandledrejection', onRejection);
      for (const [level, original] of real) console[level] = original;
    },
  };
}
