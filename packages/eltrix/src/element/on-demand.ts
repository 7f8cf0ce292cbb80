/** Loads an element's module when its tag first appears on the page. */

/** Functions that import the module of a tag. */
type Loaders = Readonly<Record<string, () => Promise<unknown>>>;

/** The delays after a failed download, in milliseconds; after the last one the tag is given up. */
const pauses = [1000, 4000];

/**
 * Watches the document, and open shadow roots in it, for the tags of these loaders. Each module is imported once. A
 * failed download is reported with `console.error`, tried twice more, and sent as an `error` event to the element.
 *
 * @returns a function that stops watching.
 */
export function loadOnDemand(loaders: Loaders, root: Document = document): () => void {
  const pending = new Set(Object.keys(loaders));
  const watched = new WeakSet<Node>();
  const observer = new MutationObserver(records => {
    for (const { addedNodes } of records) for (const node of addedNodes) look(node);
  });

  async function load(tag: string, element: Element): Promise<void> {
    pending.delete(tag);
    for (let tries = 0; ; tries++) {
      try {
        await loaders[tag]!();
        break;
      } catch (error) {
        const pause = pauses[tries];
        console.error(
          `Error (element-unloaded): <${tag}> could not be loaded. ${pause === undefined ? 'It stays as it is.' : `The next try comes in ${pause / 1000} s.`}`,
          error,
        );
        if (pause === undefined) {
          element.dispatchEvent(new ErrorEvent('error', { error }));
          return;
        }
        await new Promise(resolve => setTimeout(resolve, pause));
      }
    }
  }

  function look(node: Node): void {
    if (node.nodeType === 1) seen(node as Element);
    if (node.nodeType !== 1 && node.nodeType !== 9 && node.nodeType !== 11) return;
    for (const element of (node as ParentNode).querySelectorAll('*')) seen(element);
  }

  function seen(element: Element): void {
    for (const tag of [element.localName, element.getAttribute('is')])
      if (tag !== null && pending.has(tag)) void load(tag, element);
    const { shadowRoot } = element;
    if (shadowRoot && !watched.has(shadowRoot)) watch(shadowRoot);
    else if (!shadowRoot && element.localName.includes('-') && !customElements.get(element.localName))
      // Its root is created with its definition, which another script may load.
      customElements.whenDefined(element.localName).then(
        () => look(element),
        // An element of SVG or MathML may have a name that no custom element can have.
        () => {},
      );
  }

  function watch(node: Node): void {
    watched.add(node);
    observer.observe(node, { childList: true, subtree: true });
    look(node);
  }

  watch(root);
  return () => {
    observer.disconnect();
    pending.clear();
  };
}
