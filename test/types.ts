/** What the types promise. The type checker reads this file; nothing runs it. A line after @ts-expect-error must not compile. */
import {
  choice,
  computed,
  contract,
  custom,
  data,
  event,
  flag,
  type Handle,
  handle,
  integer,
  json,
  live,
  markup,
  on,
  type Scope,
  type Signal,
  signal,
  slot,
  stylesheet,
  text,
  tokens,
} from 'eltrix';
import { request, retry } from 'eltrix/behaviours';
import { context, offer } from 'eltrix/context';
import { type RenderOptions, renderPage } from 'eltrix/server';
import { autosave, type Store } from 'eltrix/store';

type Same<A, B> = (<T>() => T extends A ? 1 : 2) extends <T>() => T extends B ? 1 : 2 ? true : false;
function same<A, B>(_: Same<A, B>): void {}

interface Frame {
  id: number;
  honey: number;
}

class HiveCard extends contract('hive-card', {
  about: 'One hive at a glance.',
  attributes: {
    name: text({ about: 'Painted on the front.' }),
    label: text({ nullable: true }),
    boxes: integer({ default: 1 }),
    mood: choice(['calm', 'busy', 'swarming'], { missing: 'calm', invalid: 'calm' }),
    side: choice(['north', 'south']),
    maybe: choice(['a', 'b'], { nullable: true }),
    compact: flag(),
    tags: tokens(),
    plan: json<{ next: string }>(),
    steps: json<number[]>({ default: () => [] }),
    size: custom({ parse: value => Number(value), print: (value: number) => String(value) }),
  },
  properties: { frames: data<Frame[]>(() => []), notes: live(() => [{ text: '' }]) },
  events: { 'hive-open': event<{ name: string }>(), 'hive-shut': event() },
  slots: { '': slot('Notes about the hive.') },
  parts: { gauge: 'The honey gauge.' },
  cssProperties: { '--hive-accent': 'Colour of the gauge.' },
  states: { ripe: 'Every frame is capped.' },
}) {
  static styleSheets = [stylesheet`:host { display: block }`];
  readonly box: Handle<HTMLDivElement> = handle<HTMLDivElement>();

  view() {
    // A listener need not name the type of its event, and anything may be a value.
    const some: unknown = 1;
    return markup`<div ${this.box} onclick=${event => event.type} title=${some}>${() => this.name}</div>`;
  }

  open() {
    this.emit('hive-open', { name: this.name });
    this.emit('hive-shut');
    // @ts-expect-error the detail is missing
    this.emit('hive-open');
    // @ts-expect-error the detail is of another shape
    this.emit('hive-open', { title: '' });
    // @ts-expect-error the event is not declared
    this.emit('hive-opened', { name: '' });
  }
}

HiveCard.define();
HiveCard.define('other-card');

const card = new HiveCard();
same<typeof card.name, string>(true);
same<typeof card.label, string | null>(true);
same<typeof card.boxes, number>(true);
same<typeof card.mood, 'calm' | 'busy' | 'swarming'>(true);
same<typeof card.side, 'north' | 'south' | ''>(true);
same<typeof card.maybe, 'a' | 'b' | null>(true);
same<typeof card.compact, boolean>(true);
same<typeof card.plan, { next: string } | null>(true);
same<typeof card.steps, number[]>(true);
same<typeof card.size, number>(true);
same<typeof card.frames, Frame[]>(true);
same<typeof card.notes, { text: string }[]>(true);
same<typeof card.tags.length, number>(true);
card.mood = 'busy';
card.frames = [{ id: 1, honey: 2 }];
// @ts-expect-error not one of the choices
card.mood = 'angry';
// @ts-expect-error a number
card.boxes = '2';
// @ts-expect-error not declared
card.colour = 'red';

card.addEventListener('hive-open', heard => same<typeof heard.detail.name, string>(true));
card.addEventListener('hive-shut', heard => same<typeof heard.detail, null>(true));
card.addEventListener('click', heard => same<typeof heard, PointerEvent>(true));
card.addEventListener('anything-else', heard => same<typeof heard, Event>(true));
// @ts-expect-error the detail has no title
card.addEventListener('hive-open', heard => heard.detail.title);

class BigCard extends contract(
  'big-card',
  { attributes: { width: integer() }, events: { 'big-grow': event<number>() } },
  HiveCard,
) {
  grow() {
    this.width++;
    this.emit('big-grow', this.width);
    this.emit('hive-open', { name: this.name });
    this.open();
  }
}
same<BigCard['width'], number>(true);
same<BigCard['mood'], 'calm' | 'busy' | 'swarming'>(true);
new BigCard().addEventListener('hive-open', heard => same<typeof heard.detail.name, string>(true));
new BigCard().addEventListener('big-grow', heard => same<typeof heard.detail, number>(true));

on('click', heard => same<typeof heard, PointerEvent>(true));
on<CustomEvent<number>>('big-grow', heard => same<typeof heard.detail, number>(true));
declare const scope: Scope;
scope.on(window, 'resize', heard => same<typeof heard, UIEvent>(true));
scope.on(document, 'visibilitychange', heard => same<typeof heard, Event>(true));
scope.on(card, 'keydown', heard => same<typeof heard, KeyboardEvent>(true));
scope.on<MessageEvent<string>>(window, 'message', heard => same<typeof heard.data, string>(true));

// @ts-expect-error no hyphen
contract('card', {});
// @ts-expect-error capital letters
contract('Hive-card', {});
// @ts-expect-error a kind is called, not named
contract('a-b', { attributes: { name: text } });
// @ts-expect-error a default that is not among the values
contract('a-b', { attributes: { mood: choice(['calm'], { missing: 'wild' }) } });
// @ts-expect-error custom properties begin with two hyphens
contract('a-b', { cssProperties: { accent: 'Colour.' } });

// @ts-expect-error a misspelt key of the declaration
contract('a-b', { atributes: {} });

class Wrong extends contract('wrong-one', {}) {
  connected(_: string) {}
}
// @ts-expect-error the hook takes a scope
Wrong.define();

declare global {
  interface HTMLElementTagNameMap {
    'hive-card': HiveCard;
  }
}
const made = document.createElement('hive-card');
same<typeof made, HiveCard>(true);
document.querySelector('hive-card')?.addEventListener('hive-open', heard => heard.detail.name);

declare const offering: HTMLElement;
declare const shelf: Store<{ jars: number }>;
offer(offering, context<string>('name'), 'Rosemary');
offer(offering, context<string>('name'), signal('Rosemary'));
offer(offering, context<'a' | 'b'>('letter'), signal<'a' | 'b'>('a'));
offer(offering, context<boolean>('on'), true);
// biome-ignore lint/suspicious/noExplicitAny: what an author may write.
offer(offering, context<any>('any'), 1);
offer(offering, context<unknown>('unknown'), 1);
offer(offering, context<typeof shelf>('shelf'), shelf);
offer(
  offering,
  context<Signal<string>>('theme'),
  computed(() => signal('light')),
);
// @ts-expect-error a signal is read, so that descendants would get a text
offer(offering, context<Signal<string>>('theme'), signal('light'));

// Options that are there on a condition, with exactOptionalPropertyTypes as well.
export function optional(repeats: boolean, store: Store<object>, after?: number) {
  request(() => '/hives', { again: repeats ? retry(3, { every: after }) : undefined });
  autosave(store, { key: 'hives', after });
}

// Whether rendering waits is known from the options, or it is not.
export function rendered(options: RenderOptions) {
  const now: string = renderPage('', { lang: 'de' });
  const later: Promise<string> = renderPage('', { wait: 50 });
  // @ts-expect-error: with `wait` it is a promise.
  const wrong: string = renderPage('', options);
  return [now, later, wrong];
}
