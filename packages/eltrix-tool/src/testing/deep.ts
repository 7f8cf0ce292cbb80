/** Queries across open shadow roots, and serializes both trees of an element. */

/**
 * Finds an element by selectors joined with ` >>> `: each is searched in the shadow root of the previous element, or
 * in its children. A single selector is searched in all open roots.
 *
 * @throws RangeError that names the selector that matched nothing.
 * @example deep<HTMLButtonElement>('hive-card >>> button')
 */
export function deep<E extends Element = HTMLElement>(selector: string, root: ParentNode = document): E {
  const steps = selector.split('>>>').map(step => step.trim());
  let found: Element | undefined;
  let inside: ParentNode = root;
  for (const [i, step] of steps.entries()) {
    found = i === 0 ? findThrough(inside, step) : (within(inside as Element, step) ?? undefined);
    if (!found) {
      throw new RangeError(
        `(deep-missing): "${step}" was not found${i > 0 ? ` inside "${steps[i - 1]}"` : ''}. Print the tree with snapshot(element).`,
      );
    }
    inside = found;
  }
  return found as E;
}

/**
 * Finds all elements that a selector matches, in all open roots. With ` >>> ` each selector is searched as by `deep`,
 * in all elements that the previous one has found.
 *
 * @example deepAll('hive-card >>> li')
 */
export function deepAll<E extends Element = HTMLElement>(selector: string, root: ParentNode = document): E[] {
  const [first, ...steps] = selector.split('>>>').map(step => step.trim());
  let found = [...trees(root)].flatMap(tree => [...tree.querySelectorAll(first!)]);
  for (const step of steps) {
    const inside = found.flatMap(element => [
      ...(element.shadowRoot?.querySelectorAll(step) ?? []),
      ...element.querySelectorAll(step),
    ]);
    found = [...new Set(inside)];
  }
  return found as unknown as E[];
}

function findThrough(root: ParentNode, selector: string): Element | undefined {
  for (const tree of trees(root)) {
    const found = tree.querySelector(selector);
    if (found) return found;
  }
  return undefined;
}

const within = (element: Element, selector: string) =>
  element.shadowRoot?.querySelector(selector) ?? element.querySelector(selector);

/** A tree and its open shadow trees, outer ones first. */
function* trees(root: ParentNode): Generator<ParentNode> {
  yield root;
  if (root instanceof Element && root.shadowRoot) yield* trees(root.shadowRoot);
  for (const element of root.querySelectorAll('*')) if (element.shadowRoot) yield* trees(element.shadowRoot);
}

/**
 * Serializes an element: its light tree, and its open shadow tree under `#shadow`. Attributes are sorted, white space
 * is collapsed, empty texts and comments are omitted.
 * @example assert.match(snapshot(card), /<h3>Rosemary<\/h3>/);
 */
export function snapshot(element: Element): string {
  return lines(element, '').join('\n');
}

function lines(element: Element, indent: string): string[] {
  const attributes = [...element.attributes]
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .map(({ name, value }) => ` ${name}${value === '' ? '' : `="${value.replaceAll('"', '&quot;')}"`}`);
  const start = `${indent}<${element.localName}${attributes.join('')}>`;
  const inner: string[] = [];
  if (element.shadowRoot) inner.push(`${indent}  #shadow`, ...children(element.shadowRoot, `${indent}    `));
  inner.push(...children(element instanceof HTMLTemplateElement ? element.content : element, `${indent}  `));
  if (/^(?:area|br|col|embed|hr|img|input|link|meta|source|track|wbr)$/.test(element.localName)) return [start];
  if (inner.length === 0) return [`${start}</${element.localName}>`];
  const [only] = inner;
  if (inner.length === 1 && only!.length < 60 && !only!.trim().startsWith('<'))
    return [`${start}${only!.trim()}</${element.localName}>`];
  return [start, ...inner, `${indent}</${element.localName}>`];
}

function children(parent: Node, indent: string): string[] {
  return [...parent.childNodes].flatMap(node => {
    if (node.nodeType === 1) return lines(node as Element, indent);
    const text = node.nodeType === 3 ? node.textContent!.replace(/\s+/g, ' ').trim() : '';
    return text ? [indent + text] : [];
  });
}
