import { elementSelector } from '../../../project/element-selector.ts';
import { firstDifference } from '../first-difference.ts';
import { quiet } from '../quiet.ts';
import { snapshot } from '../snapshot.ts';
import type { Stage } from '../stage.ts';
import { errorsIn, real } from '../watch.ts';
import { failure, type Rule } from './rule.ts';

/** Gives a fresh element the attributes and content of a specimen. */
function furnish(
  element: HTMLElement,
  written: HTMLElement,
  names = [...written.attributes].map(({ name }) => name),
): void {
  for (const name of names) if (name !== 'is') element.setAttribute(name, written.getAttribute(name)!);
  element.append(...[...written.childNodes].map(node => document.importNode(node, true)));
}

/** The actual and the expected appearance. While they differ, pending changes may still arrive. */
async function compared(shown: () => string, reference: () => string): Promise<readonly [string, string]> {
  for (const end = performance.now() + 1500; ; ) {
    const both = [shown(), reference()] as const;
    if (!firstDifference(both[1], both[0]) || performance.now() > end) return both;
    await new Promise<void>(resolve => real.setTimeout.call(window, resolve, 25));
  }
}

type Compared = ReturnType<typeof compared>;

async function shownAs(stage: Stage, element: HTMLElement, reference: () => string): Compared {
  const { box } = await stage.place(element);
  const noise = await stage.noise();
  try {
    return await compared(() => snapshot(element, noise), reference);
  } finally {
    box.remove();
  }
}

/** The element as created by the parser, in a page that arrives slowly, after the definition. */
async function parsed(stage: Stage, reference: () => string): Compared {
  const frame = document.createElement('iframe');
  frame.src = new URL(`slowly?tag=${stage.tag}`, import.meta.url).href;
  // With the size of the page, since the appearance may depend on it.
  Object.assign(frame.style, { width: `${innerWidth}px`, height: `${innerHeight}px`, border: '0' });
  document.body.append(frame);
  try {
    const isLoaded = await Promise.race([
      new Promise<boolean>(resolve => frame.addEventListener('load', () => resolve(true), { once: true })),
      new Promise<boolean>(resolve => real.setTimeout.call(window, () => resolve(false), 10_000)),
    ]);
    // An overloaded engine is not the element's fault.
    if (!isLoaded) return [reference(), reference()];
    await quiet();
    const { contentDocument } = frame;
    const found = contentDocument?.querySelector<HTMLElement>(elementSelector(stage.tag));
    if (!found) return ['(nothing)', reference()];
    // Errors of the other page belong to its own realm: only their text is reported.
    const { eltrixSnapshot } = frame.contentWindow as unknown as { eltrixSnapshot: typeof snapshot };
    const noise = await stage.noise();
    stage.stays(found);
    return await compared(() => eltrixSnapshot(found, noise), reference);
  } finally {
    frame.remove();
  }
}

/** The forbidden actions of a constructor. */
async function constructorProblem(stage: Stage): Promise<{ expected: string; seen: string } | undefined> {
  let fresh: HTMLElement | undefined;
  const [error] = await errorsIn(() => {
    fresh = stage.bare();
  });
  if (error) return { expected: 'an element, without an error', seen: error };
  const [name] = fresh!.getAttributeNames().filter(name => name !== 'is');
  if (name !== undefined) return { expected: 'no attributes', seen: `the attribute ${name}` };
  const child = fresh!.firstChild;
  return child ? { expected: 'no children', seen: `a child <${child.nodeName.toLowerCase()}>` } : undefined;
}

export const creationRules: readonly Rule[] = [
  {
    code: 'made-alike',
    comparesPages: true,
    async run(stage) {
      // constructor-bare reports the actions of its constructor.
      if (await constructorProblem(stage)) return undefined;
      const noise = await stage.noise();
      const { box, element } = await stage.stage();
      const reference = () => snapshot(element, noise);
      const written = stage.written();
      const ways: readonly (readonly [string, () => Compared])[] = [
        ['innerHTML again', again],
        ['document.createElement', () => shownAs(stage, made(stage.bare()), reference)],
        ...(stage.task.description.extends === undefined
          ? ([['new', () => shownAs(stage, made(new stage.Class() as HTMLElement), reference)]] as const)
          : []),
        ['cloneNode', () => shownAs(stage, element.cloneNode(true) as HTMLElement, reference)],
        ['importNode', () => shownAs(stage, document.importNode(written, true), reference)],
        ['upgrade', () => shownAs(stage, upgraded(written), reference)],
        ['the parser, after the definition', () => parsed(stage, reference)],
      ];
      async function again(): Compared {
        const { element } = await stage.stage();
        return compared(() => snapshot(element, noise), reference);
      }
      function made(fresh: HTMLElement): HTMLElement {
        furnish(fresh, written);
        return fresh;
      }
      try {
        for (const [way, make] of ways) {
          let result: readonly [shown: string, expected: string] = ['', ''];
          const [error] = await errorsIn(async () => {
            result = await make();
          }).catch((thrown: unknown) => [String(thrown)]);
          if (error)
            return failure(
              `made it by ${way}`,
              'no error',
              error,
              'Do nothing in the constructor but set the element up; view() and connected() come later.',
            );
          const difference = firstDifference(result[1], result[0]);
          if (difference)
            return failure(
              `made it by ${way}, and compared it with one that innerHTML made`,
              difference.expected,
              difference.seen,
              'Derive the view from attributes, properties and content only, at any time.',
            );
        }
        return undefined;
      } finally {
        box.remove();
      }

      function upgraded(template: HTMLElement): HTMLElement {
        const foreign = document.implementation.createHTMLDocument();
        const copy = foreign.importNode(template, true);
        document.adoptNode(copy);
        customElements.upgrade(copy);
        return copy;
      }
    },
  },
  {
    code: 'constructor-bare',
    async run(stage) {
      const problem = await constructorProblem(stage);
      if (!problem) return undefined;
      return failure(
        'called document.createElement()',
        problem.expected,
        problem.seen,
        'Move it to connected() or view(): HTML §4.13.2 lets a constructor add neither attributes nor children.',
      );
    },
  },
  {
    code: 'early-properties',
    applies: ({ task }) => (task.description.properties.some(isPlainText) ? undefined : 'it has no property to set'),
    async run(stage) {
      for (const { name, kind } of stage.task.description.properties.filter(isPlainText)) {
        const value = early[kind]!;
        const foreign = document.implementation.createHTMLDocument();
        const element = document.adoptNode(foreign.importNode(stage.written(), true)) as unknown as Record<
          string,
          unknown
        > &
          HTMLElement;
        (element as Record<string, unknown>)[name] = value;
        customElements.upgrade(element);
        const box = stage.box();
        box.append(element);
        await quiet();
        const seen = element[name];
        box.remove();
        if (seen !== value)
          return failure(
            `set ${name} = ${JSON.stringify(value)} before the element was defined`,
            JSON.stringify(value),
            String(JSON.stringify(seen)),
            'Take the value over when the element is upgraded: delete the own property and assign it again.',
          );
      }
      return undefined;
    },
  },
  {
    code: 'attribute-order',
    applies: stage => (stage.written().attributes.length > 1 ? undefined : 'its first specimen has no two attributes'),
    async run(stage) {
      const written = stage.written();
      const names = written.getAttributeNames();
      const [forward, backward] = [stage.bare(), stage.bare()];
      furnish(forward, written, names);
      furnish(backward, written, [...names].reverse());
      const { box } = await stage.place(forward);
      const noise = await stage.noise();
      const [seen, expected] = await shownAs(stage, backward, () => snapshot(forward, noise));
      box.remove();
      const difference = firstDifference(expected, seen);
      if (!difference) return undefined;
      return failure(
        'set the attributes in the other order',
        difference.expected,
        difference.seen,
        'Let each attribute be read when it is needed, not when it happens to come.',
      );
    },
  },
];

const early: Readonly<Record<string, unknown>> = {
  text: 'Sorrel',
  flag: true,
  integer: 7,
  decimal: 1.5,
  nonNegative: 7,
  unsigned: 7,
  positive: 7,
  positiveDecimal: 1.5,
};

function isPlainText({ kind, name }: { readonly kind: string; readonly name: string }): boolean {
  return kind in early && !(name in HTMLElement.prototype);
}
