/** Adopting server output: the same nodes, and the same appearance as an element created in the browser. */
import { closing, opening, viewMark } from '../../../../../eltrix/src/view/sent-marks.ts';
import { policy } from '../../../../../eltrix/src/view/trusted.ts';
import { firstDifference } from '../first-difference.ts';
import type { CheckSpecimen, Failure } from '../model.ts';
import { deepElements, type Stage } from '../stage.ts';
import { failure, type Rule } from './rule.ts';

const fix =
  'Let the view follow from attributes, properties and requests only. What only the browser knows belongs into connected(); render: false in the contract leaves the element to the browser.';

/** A page parsed with its declarative shadow roots. */
function sentNodes(html: string): DocumentFragment {
  const box = document.createElement('div') as HTMLElement & { setHTMLUnsafe(html: string): void };
  box.setHTMLUnsafe(policy().createHTML(html));
  const nodes = document.createDocumentFragment();
  nodes.append(...box.childNodes);
  return nodes;
}

/** Whether a server sent the node besides the view. */
const isBeside = (node: Node) => node.nodeType === 1 && (node as Element).hasAttribute('data-eltrix');

/**
 * Whether a node is in the output of an expression, between its marks. Others are added by the element's own code, as
 * for a library that draws into an element of the view: that does not run on a server.
 */
function isOutput(node: Node): boolean {
  const { parentNode } = node;
  // The whole view is between marks, too.
  let depth = parentNode instanceof ShadowRoot ? -1 : 0;
  for (let before = node.previousSibling; before; before = before.previousSibling)
    if (before.nodeType === 8) {
      const { data } = before as Comment;
      if (data === opening) depth++;
      else if (data === closing) depth--;
      else if (data === viewMark) depth--;
    }
  return depth > 0;
}

const named = (node: Node) =>
  node.nodeType === 1
    ? `<${(node as Element).localName}>`
    : `the text ${JSON.stringify((node as Text).data.slice(0, 40))}`;

/** The initial value of a text field is not part of the appearance. */
function withoutDefaults(root: HTMLElement): HTMLElement {
  for (const element of [root, ...deepElements(root), ...(root.shadowRoot ? deepElements(root.shadowRoot) : [])])
    if (element.localName === 'textarea') element.textContent = '';
  return root;
}

async function takeOver(stage: Stage, specimen: CheckSpecimen, at: number): Promise<Failure | undefined> {
  const did = `rendered "${specimen.title}" as a server does, and took it over`;
  if (specimen.rendered === undefined) return undefined;
  if (typeof specimen.rendered !== 'string')
    return failure(`rendered "${specimen.title}" as a server does`, 'no error', specimen.rendered.error, fix);
  const made = await stage.play(specimen, 800 + at);
  await stage.noise();
  const expected = await stage.show(withoutDefaults(made.element));
  made.end();
  const changed: string[] = [];
  const observer = new MutationObserver(() => {});
  const note = () => {
    const records = observer.takeRecords();
    const added = new Set(records.flatMap(({ addedNodes }) => [...addedNodes]));
    for (const { target, oldValue, addedNodes, removedNodes } of records) {
      const { nodeValue } = target;
      if (oldValue !== null && nodeValue !== oldValue)
        changed.push(`changed the text from ${JSON.stringify(oldValue)} to ${JSON.stringify(nodeValue)}`);
      for (const [what, nodes] of [
        ['removed', [...removedNodes].filter(node => !added.has(node))],
        ['added', [...addedNodes].filter(isOutput)],
      ] as const)
        for (const node of nodes) if (!isBeside(node) && node.nodeType !== 8) changed.push(`${what} ${named(node)}`);
    }
  };
  const watched = (nodes: DocumentFragment) => {
    const element = stage.find(nodes);
    // Hooks may set attributes, and do not run on a server.
    observer.observe(element.shadowRoot ?? element, {
      childList: true,
      characterData: true,
      characterDataOldValue: true,
      subtree: true,
    });
    return nodes;
  };
  const taken = await stage.play(specimen, 850 + at, () => watched(sentNodes(specimen.rendered as string)), note);
  observer.disconnect();
  const seen = await stage.show(withoutDefaults(taken.element));
  taken.end();
  const difference = firstDifference(expected, seen);
  if (difference) return failure(did, difference.expected, difference.seen, fix);
  if (changed.length > 0) return failure(did, 'the same nodes', `it ${changed.slice(0, 3).join(', ')}`, fix);
  return undefined;
}

export const renderedRules: readonly Rule[] = [
  {
    code: 'rendered-alike',
    comparesPages: true,
    applies({ task }) {
      if (task.description.render === false) return 'the contract leaves it to the browser';
      return task.specimens.some(({ rendered }) => rendered !== undefined)
        ? undefined
        : 'the configuration does not have "render"';
    },
    async run(stage) {
      const failures: Failure[] = [];
      for (const [at, specimen] of stage.task.specimens.entries()) {
        const found = await takeOver(stage, specimen, at);
        if (found) failures.push(found);
      }
      return failures;
    },
  },
];
