import type { EventDescription } from '../../../describe/description.ts';
import type { Stage } from '../stage.ts';
import { walk, walked } from '../walk.ts';
import { failure, type Rule } from './rule.ts';

const declared = ({ task }: Stage) => new Map(task.description.events.map(event => [event.type, event]));

/** Declared events that were dispatched. */
async function known(stage: Stage): Promise<(readonly [Event, EventDescription])[]> {
  const events = declared(stage);
  return (await walk(stage)).events.flatMap(({ event }) => {
    const declaration = events.get(event.type);
    return declaration ? [[event, declaration] as const] : [];
  });
}

const noEvents = ({ task }: Stage) => (task.description.events.length > 0 ? undefined : 'it declares no events');

/** Events of the context protocol: elements ask each other, without being asked for it by their users. */
const ofProtocol = new Set(['context-request', 'context-provider']);

export const eventRules: readonly Rule[] = [
  {
    code: 'event-declared',
    applies: ({ task }) => (task.unsaid.includes('events') ? 'the manifest does not list its events' : undefined),
    async run(stage) {
      const events = declared(stage);
      const unknown = (await walk(stage)).events.filter(
        ({ event }) => !events.has(event.type) && !ofProtocol.has(event.type),
      );
      return [...new Set(unknown.map(({ event }) => event.type))].map(type =>
        failure(
          walked,
          events.size > 0 ? `only ${[...events.keys()].join(', ')}` : 'no events',
          `it sent "${type}"`,
          `Declare it: events: { '${type}': event({ about: '…' }) }.`,
        ),
      );
    },
  },
  {
    code: 'event-flags',
    applies: noEvents,
    async run(stage) {
      for (const [event, { type, bubbles, composed, cancelable }] of await known(stage)) {
        const words = (flags: { bubbles: boolean; composed: boolean; cancelable: boolean }) =>
          `bubbles ${flags.bubbles}, composed ${flags.composed}, cancelable ${flags.cancelable}`;
        const expected = words({ bubbles, composed, cancelable });
        const seen = words(event);
        if (stage.task.foreign || seen === expected) continue;
        return failure(
          walked,
          `"${type}": ${expected}`,
          seen,
          `Send it with this.emit('${type}', …), or declare it as it is sent.`,
        );
      }
      return undefined;
    },
  },
  {
    code: 'event-detail',
    applies: noEvents,
    async run(stage) {
      for (const [event] of await known(stage)) {
        const { detail } = event as CustomEvent<unknown>;
        try {
          structuredClone(detail);
        } catch (error) {
          return failure(
            walked,
            `the detail of "${event.type}" can be cloned`,
            (error as Error).message,
            'Put plain data into it: no functions, no nodes.',
          );
        }
      }
      return undefined;
    },
  },
];
