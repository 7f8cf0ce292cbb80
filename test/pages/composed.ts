/** Programs of random trees (`composed-parts.ts`) and random changes, beside what they have to show. */
import { batch, contract, integer, markup, settled } from 'eltrix';
import { handleErrors, region } from 'eltrix/views';
import { random } from '../support/random.ts';
import { definitions, hasFailed, inPlace, Maker, type Next, type Part, together } from './composed-parts.ts';

/** The children as the engine has them: an element without a root shows those that it was given as its own. */
const childrenOf = (node: Node): Node[] => [
  ...(Object.getOwnPropertyDescriptor(Node.prototype, 'childNodes')!.get!.call(node) as NodeListOf<ChildNode>),
];

/** What an element shows, those inside it in brackets. */
export function textOf(node: Node): string {
  // Nodes made in another document have its classes.
  if (node.nodeType === 3) return (node as Text).data;
  if (node.nodeType !== 1) return '';
  const { localName, title, value, shadowRoot } = node as HTMLInputElement;
  if (localName === 'input') return `<${value}>`;
  const inside = (nodes: readonly Node[]) => nodes.map(textOf).join('');
  if (localName === 'slot') {
    const given = 'host' in node.getRootNode() ? (node as HTMLSlotElement).assignedNodes() : [];
    return inside(given.length > 0 ? given : childrenOf(node));
  }
  if (localName.startsWith('composed-')) return `{${inside(childrenOf(shadowRoot ?? node))}}`;
  return `[${title === '' ? '' : `${title}:`}${inside(childrenOf(node))}]`;
}

/** A random tree in a region, by its number, and its changes. */
export class Program {
  readonly #next: Next;
  readonly #maker: Maker;
  readonly whole: Part;
  readonly #done: string[] = [];

  constructor(readonly number: number) {
    this.#next = random(number + 1);
    this.#maker = new Maker(this.#next);
    const parts = [this.#maker.part(3), this.#maker.part(3)];
    this.whole = {
      words: parts.map(({ words }) => words).join('   '),
      show: () =>
        region(
          () => markup`${parts.map(inPlace)}`,
          () => '(whole)',
        ),
      text() {
        try {
          return together(parts);
        } catch {
          return '(whole)';
        }
      },
    };
  }

  /** The text that shows now; undefined if a promise is pending, whose place shows what was before. */
  text(): string | undefined {
    const isPending = this.#maker.promises.some(source => source.peek().outcome === 'pending');
    return isPending ? undefined : this.whole.text();
  }

  /** Whether a part fails now, inside a region or not. */
  get hasFailed(): boolean {
    return hasFailed(this.whole);
  }

  /** What was done so far. */
  get journey(): string {
    return `program ${this.number}, ${this.whole.words}: ${this.#done.join('; ')}`;
  }

  /** Changes one to three sources, now and then while the element is away or moves. */
  async change(element: HTMLElement): Promise<void> {
    const next = this.#next;
    const stage = element.parentNode!;
    const change = () => {
      for (let i = next(3); i >= 0; i--) {
        const { changes } = this.#maker;
        this.#done.push(changes[next(changes.length)]!(next));
      }
    };
    const ways: Readonly<Record<string, () => void>> = {
      removed: () => element.remove(),
      'to another parent': () => {
        stage.appendChild(document.createElement('div')).append(element);
      },
      'with moveBefore': () => {
        const place = document.createElement('div');
        stage.appendChild(place);
        if ('moveBefore' in place) (place as { moveBefore(node: Node, child: null): void }).moveBefore(element, null);
      },
      'to another document': () => {
        const frame = document.createElement('iframe');
        stage.appendChild(frame);
        frame.contentDocument!.body.append(element);
      },
    };
    const way = next(6) === 0 ? Object.keys(ways)[next(4)]! : undefined;
    if (way) ways[way]!();
    if (next(2) === 0) batch(change);
    else change();
    if (way) {
      if (next(2) === 0) await settled();
      stage.insertBefore(element, stage.firstChild);
      while (element.nextSibling) element.nextSibling.remove();
      this.#done.push(way);
    }
    this.#done.push('|');
  }

  /** Whether anything still follows its sources. */
  get isFollowed(): boolean {
    return this.#maker.signals.some(source => (source as unknown as { targets: unknown }).targets !== undefined);
  }
}

/** The errors that no program means to have, while `during` runs. */
export async function unexpected(during: () => Promise<void>): Promise<unknown[]> {
  const odd: unknown[] = [];
  const stop = handleErrors(({ error }) => {
    if (!/expected|RangeError|g\d|first/.test(String(error))) odd.push(error);
    return true;
  });
  await during().finally(stop);
  return odd;
}

/** All is shown. */
export async function shown(): Promise<void> {
  await settled();
  // A promise is shown some microtasks after it is settled.
  for (let i = 0; i < 6; i++) await undefined;
  await settled();
}

/** Shows the program whose number it has as attribute, so that a server and the browser show the same one. */
export class ComposedProgram extends contract('composed-program', { attributes: { number: integer() } }) {
  program: Program | undefined;

  view() {
    this.program ??= new Program(this.number);
    return markup`${this.program.whole.show()}`;
  }
}

/** Defines all elements. */
export function defineAll(): void {
  for (const define of [...definitions, () => ComposedProgram.define()]) define();
}

const elementsIn = (root: Element | ShadowRoot): Element[] =>
  [...root.querySelectorAll('*')].flatMap(element => [
    element,
    ...(element.shadowRoot ? elementsIn(element.shadowRoot) : []),
  ]);

/**
 * Takes over what a server has rendered of one program, and changes it.
 *
 * @param order of the definitions, a seed; undefined if all are defined before.
 * @returns what is wrong.
 */
export async function takeOver(html: string, order?: number, steps = 6): Promise<unknown[]> {
  if (order === undefined) defineAll();
  const found: unknown[] = [];
  const stage = document.createElement('main');
  stage.setHTMLUnsafe(html);
  const before = elementsIn(stage);
  const odd = await unexpected(async () => {
    document.body.append(stage);
    const element = stage.firstElementChild as ComposedProgram;
    if (order !== undefined) await defineInOrder(random(order));
    const program = element.program!;
    const lost = before.filter(element => !element.isConnected && !element.hasAttribute('data-eltrix'));
    if (order === undefined && !program.hasFailed && lost.length > 0)
      found.push({ journey: program.journey, html, lost: lost.map(element => element.outerHTML) });
    for (let step = 0; step <= steps; step++) {
      await shown();
      const text = program.text();
      const seen = textOf(element);
      if (text !== undefined && seen !== `{${text}}`)
        found.push({ journey: program.journey, html, seen, text: `{${text}}` });
      await program.change(element);
    }
    stage.remove();
    await shown();
    if (program.isFollowed) found.push({ journey: program.journey, followed: true });
  });
  if (odd.length > 0) found.push({ html, odd: odd.map(String) });
  return found;
}

async function defineInOrder(next: Next): Promise<void> {
  const waiting = [...definitions, () => ComposedProgram.define()];
  while (waiting.length > 0) {
    for (const define of waiting.splice(next(waiting.length), 1)) define();
    if (next(2) === 0) await settled();
  }
}
