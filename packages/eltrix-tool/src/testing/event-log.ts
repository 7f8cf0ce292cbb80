/** Records events of an element. */
import { atEnd } from './host.ts';
import { after } from './real-time.ts';
import { checkTypes } from './user-input.ts';

export interface RecordedEvent {
  readonly type: string;
  readonly detail: unknown;
  readonly target: EventTarget | null;
  readonly event: Event;
}

export interface EventLog extends Iterable<RecordedEvent> {
  readonly all: readonly RecordedEvent[];
  readonly types: readonly string[];
  readonly details: readonly unknown[];
  readonly length: number;
  /** Forgets the recorded events. */
  clear(): void;
}

/**
 * Records events of a target until the test ends.
 * @example const log = recordEvents(card, ['hive-open']); … assert.deepEqual(log.details, [{ name: 'Rosemary' }]);
 */
export function recordEvents(target: EventTarget, types: string | readonly string[]): EventLog {
  checkTypes(types, 'recordEvents');
  const recorded: RecordedEvent[] = [];
  const hear = (event: Event) => {
    const { type, detail = undefined } = event as CustomEvent<unknown>;
    recorded.push({ type, detail, target: event.target, event });
  };
  for (const type of [types].flat()) {
    target.addEventListener(type, hear);
    atEnd(() => target.removeEventListener(type, hear));
  }
  return {
    get all() {
      return [...recorded];
    },
    get types() {
      return recorded.map(({ type }) => type);
    },
    get details() {
      return recorded.map(({ detail }) => detail);
    },
    get length() {
      return recorded.length;
    },
    clear: () => void recorded.splice(0),
    [Symbol.iterator]: () => [...recorded][Symbol.iterator](),
  };
}

/**
 * The next event of a type.
 * @param milliseconds how long to wait.
 * @throws Error when it has not come by then.
 * @example const opened = nextEvent(card, 'hive-open'); await user.click(button); (await opened).detail;
 */
export function nextEvent<E extends Event = CustomEvent>(
  target: EventTarget,
  type: string,
  milliseconds = 2000,
): Promise<E> {
  return new Promise((resolve, reject) => {
    const stop = after(milliseconds, () => {
      target.removeEventListener(type, hear);
      reject(
        new Error(
          `(event-missing): "${type}" did not come within ${milliseconds} ms. Ask for it before what causes it: const soon = nextEvent(…); …; await soon.`,
        ),
      );
    });
    const hear = (event: Event) => {
      stop();
      resolve(event as E);
    };
    target.addEventListener(type, hear, { once: true });
    // After a test that has failed before it awaits the event, it would be rejected during a later one.
    atEnd(stop);
  });
}
