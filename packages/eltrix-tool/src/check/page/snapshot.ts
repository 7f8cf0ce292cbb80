/** Serializes the appearance of an element, and compares two appearances. */
import { frame, isActive } from './idle.ts';
import { quiet } from './quiet.ts';
import { real } from './watch.ts';

/** Paths of nodes that comparisons ignore, with their descendants. */
export type Noise = ReadonlySet<string>;

/** Ids that were renamed to be unique. */
const copied = /--copy\d+/g;

/** Attributes in alphabetical order, content, shadow content. Ignored parts are shown as `…`. */
export function snapshot(element: Element, noise: Noise = new Set()): string {
  const print = new Print(noise);
  print.element(element, '', 0, true);
  return print.lines.join('\n');
}

class Print {
  readonly lines: string[] = [];
  /** The text of each path. */
  readonly entries = new Map<string, string>();

  constructor(readonly noise: Noise) {}

  element(element: Element, path: string, depth: number, whole: boolean): void {
    // The space of rows that are not rendered depends on measured heights.
    const isGap = element.getAttribute('data-eltrix') === 'gap';
    const attributes = [...element.attributes]
      .filter(({ name }) => !(isGap && name === 'style'))
      .map(({ name, value }) => {
        const text = name === 'style' ? (element as HTMLElement).style.cssText : value;
        return this.#value(`${path}@${name}`, `${name}=`, JSON.stringify(text.replace(copied, '')));
      })
      .sort();
    this.#note(path, element.localName);
    this.lines.push(`${'  '.repeat(depth)}<${[element.localName, ...attributes].join(' ')}>`);
    if (whole && element.shadowRoot) {
      this.lines.push(`${'  '.repeat(depth + 1)}#shadow`);
      this.#content(element.shadowRoot, `${path}/#`, depth + 2);
    }
    this.#content(element, path, depth + 1);
  }

  /** Adjacent text nodes count as one: how a view splits text does not matter. */
  #content(parent: Node, path: string, depth: number): void {
    if (this.noise.has(`${path}/*`)) return void this.lines.push(`${'  '.repeat(depth)}…`);
    let text = '';
    let at = 0;
    const flush = () => {
      const shown = text.replace(/\s+/g, ' ').trim().replace(copied, '');
      if (shown) this.lines.push('  '.repeat(depth) + this.#value(`${path}/${at++}`, '', shown));
      text = '';
    };
    for (const child of parent.childNodes) {
      if (child instanceof Text || child.nodeType === 3) text += (child as Text).data;
      else if (child.nodeType === 1) {
        flush();
        this.element(child as Element, `${path}/${at++}`, depth, false);
      }
    }
    flush();
    this.#note(`${path}/*`, String(at));
  }

  #value(path: string, name: string, value: string): string {
    this.#note(path, name + value);
    return name + (this.noise.has(path) ? '…' : value);
  }

  #note(path: string, value: string): void {
    this.entries.set(path, value);
  }
}

function entriesOf(element: Element): Map<string, string> {
  const print = new Print(new Set());
  print.element(element, '', 0, true);
  return print.entries;
}

/** The paths at which two appearances differ; for additional nodes, the path of their parent. */
function differing(a: ReadonlyMap<string, string>, b: ReadonlyMap<string, string>, noise: Set<string>): void {
  for (const path of new Set([...a.keys(), ...b.keys()])) {
    if (a.get(path) === b.get(path)) continue;
    if (a.has(path) && b.has(path)) noise.add(path);
    // An additional attribute changes the length of the line.
    else noise.add(path.includes('@') ? path : `${path.slice(0, path.lastIndexOf('/'))}/*`);
  }
}

/**
 * Creates an element several times in the same way, and observes one of them for a while if it shows activity.
 * @param make creates one after the other, each after the previous one was removed.
 */
export async function noiseOf(make: () => Promise<{ element: Element; end(): void }>): Promise<Noise> {
  const noise = new Set<string>();
  let first: Map<string, string> | undefined;
  // If two are alike, a third one is.
  for (let times = 0; times < (noise.size > 0 ? 3 : 2); times++) {
    const { element, end } = await make();
    const look = entriesOf(element);
    if (first) differing(first, look, noise);
    first ??= look;
    if (times === 0 && isActive())
      // Clocks tick at least once a second.
      for (const ms of [60, 250, 800]) {
        await new Promise<void>(resolve => real.setTimeout.call(window, resolve, ms));
        await frame();
        if (!element.isConnected) break;
        differing(look, entriesOf(element), noise);
      }
    end();
    await quiet();
  }
  return noise;
}
