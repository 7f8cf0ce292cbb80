import { firstDifference } from '../first-difference.ts';
import { idle } from '../idle.ts';
import { sheetOf } from '../place.ts';
import { quiet } from '../quiet.ts';
import { samplesOf } from '../samples.ts';
import { snapshot } from '../snapshot.ts';
import { Unsaid, viewElements } from '../stage.ts';
import { failure, type Rule } from './rule.ts';

type Properties = HTMLElement & Record<string, unknown>;

/** Set by the page before the element's module is loaded. */
export const before = { globals: new Set<string>(), taken: 0, left: [] as string[], globalsAfter: [] as string[] };

/** Properties that are not inherited, and that authors do not set. */
const mark = '37px';
const pageSheet = `*, div, span, p, b, i, strong, em, a, button, input, select, textarea, label, ul, ol, li, dl, dt, dd, table, tr, td, th, h1, h2, h3, h4, section, header, footer, main, nav, article, form, fieldset, output, slot, svg, path, img {
  scroll-margin-top: ${mark} !important; outline-offset: 13px !important; column-gap: 41px !important; }`;

const watched = [
  'color',
  'backgroundColor',
  'display',
  'fontSize',
  'fontWeight',
  'marginTop',
  'paddingTop',
  'borderTopWidth',
  'textTransform',
  'opacity',
  'position',
  'letterSpacing',
] as const;

/** Elements of a page, with every class name and id that the element uses inside. */
function probes(element: HTMLElement): HTMLElement {
  const box = document.createElement('div');
  const names = new Set(viewElements(element).flatMap(node => [...node.classList]));
  const ids = new Set(viewElements(element).flatMap(node => node.id || []));
  for (const tag of [
    'p',
    'h1',
    'h2',
    'h3',
    'ul',
    'button',
    'input',
    'a',
    'b',
    'span',
    'section',
    'header',
    'footer',
    'label',
    'table',
    'output',
  ])
    box.append(document.createElement(tag));
  for (const name of names)
    for (const tag of ['div', 'span', 'p']) box.append(Object.assign(document.createElement(tag), { className: name }));
  for (const id of ids) box.append(Object.assign(document.createElement('div'), { id }));
  return box;
}

const stylesOf = (box: HTMLElement) =>
  [...box.children].map(probe => {
    const style = getComputedStyle(probe);
    return watched.map(name => `${name}: ${style[name]}`).join('; ');
  });

export const isolationRules: readonly Rule[] = [
  {
    code: 'instances-apart',
    async run(stage) {
      const noise = await stage.noise();
      const first = await stage.stage();
      const second = await stage.stage();
      const [a, b] = [first.element as Properties, second.element as Properties];
      try {
        const fix = 'Make defaults in a function, data(() => []), and keep state in the instance.';
        for (const { name, attribute } of stage.task.description.properties) {
          if (attribute !== undefined || a[name] === null || typeof a[name] !== 'object') continue;
          if (a[name] === b[name])
            return failure(`compared ${name} of two instances`, 'each has its own', 'both have the same object', fix);
        }
        const other = snapshot(b, noise);
        for (const property of stage.task.description.properties) {
          if (property.attribute === undefined) continue;
          const [sample] = samplesOf(property, stage.task);
          if (!sample) continue;
          a.setAttribute(property.attribute, sample.text);
          await quiet();
          await idle();
          const difference = firstDifference(other, snapshot(b, noise));
          if (difference)
            return failure(
              `set ${property.attribute}=${JSON.stringify(sample.text)} on one of two instances`,
              `the other stays: ${difference.expected}`,
              difference.seen,
              fix,
            );
        }
        return undefined;
      } finally {
        first.box.remove();
        second.box.remove();
      }
    },
  },
  {
    code: 'ids-apart',
    async run(stage) {
      const first = await stage.stage();
      const second = await stage.stage();
      try {
        const isLight = !first.element.shadowRoot;
        const own = (element: HTMLElement) => viewElements(element).flatMap(node => node.id || []);
        // The second copy of the specimen has other ids.
        const written = new Set(
          [first.box, second.box].flatMap(box => [...box.querySelectorAll('[id]')].map(({ id }) => id)),
        );
        for (const id of [...written]) if (!stage.first.html.includes(id.replace(/--copy\d+$/, ''))) written.delete(id);
        const ids = isLight
          ? [...own(first.element), ...own(second.element)].filter(id => !written.has(id))
          : own(first.element);
        const twice = ids.find((id, at) => ids.indexOf(id) !== at);
        if (!twice) return undefined;
        return failure(
          isLight ? 'put two of them on a page' : 'looked at the ids in its view',
          'each id once',
          `the id "${twice}" twice`,
          isLight
            ? 'Without a shadow root ids are the page’s: make them from something of the instance, or nest the label and its field.'
            : 'Give each element of the view its own id.',
        );
      } finally {
        first.box.remove();
        second.box.remove();
      }
    },
  },
  {
    code: 'nothing-global',
    async run(stage) {
      // Effects of loading a module are reported once, for the first of its elements.
      const first = stage.task.tags.filter(tag => customElements.get(tag)).sort()[0];
      if (stage.task.foreign && first !== undefined && first !== stage.tag)
        throw new Unsaid(`its module also defines <${first}>, where this is reported`);
      const { box } = await stage.stage();
      await quiet();
      box.remove();
      const added = [
        ...before.globalsAfter,
        ...Object.getOwnPropertyNames(window).filter(name => !before.globals.has(name)),
      ].filter(name => !/^(?:eltrix|gc$|\d+$|__playwright|\$cdc)/.test(name));
      if (added[0])
        return failure(
          'loaded its module and made one',
          'no new global',
          `window.${added[0]}`,
          'Keep it in the module, or in the instance.',
        );
      if (before.left[0])
        return failure(
          'loaded its module',
          'nothing taken before there is an element',
          before.left[0],
          'Take it in connected(), through its scope.',
        );
      return undefined;
    },
  },
  {
    code: 'styles-in',
    applies: ({ task }) =>
      task.description.shadow === 'none'
        ? 'it has no shadow root'
        : task.description.shadow === 'closed'
          ? 'its shadow root is closed'
          : undefined,
    async run(stage) {
      const sheets = document.adoptedStyleSheets;
      // The page has its styles before the element is created.
      document.adoptedStyleSheets = [...sheets, sheetOf(pageSheet)];
      const { box, element } = await stage.stage();
      if (!element.shadowRoot) {
        document.adoptedStyleSheets = sheets;
        throw new Unsaid('it has no open shadow root');
      }
      await quiet();
      const touched = viewElements(element).find(node => getComputedStyle(node).scrollMarginTop === mark);
      document.adoptedStyleSheets = sheets;
      box.remove();
      if (!touched) return undefined;
      return failure(
        'gave the page rules for all elements',
        'they do not reach inside',
        `<${touched.localName}> inside follows them`,
        'Do not copy the page’s sheets into the shadow root.',
      );
    },
  },
  {
    code: 'styles-out',
    async run(stage) {
      const { box, element } = await stage.stage();
      const probe = probes(element);
      box.remove();
      await quiet();
      document.body.append(probe);
      const calm = stylesOf(probe);
      const again = await stage.stage();
      const after = stylesOf(probe);
      const at = calm.findIndex((style, index) => style !== after[index]);
      const hit = probe.children[at];
      again.box.remove();
      probe.remove();
      const { styleElements } = globals;
      const added = [...document.head.querySelectorAll('style, link[rel=stylesheet]')].length - styleElements;
      const fix = 'Put styles into static styleSheets; selectors there see only the element’s own view.';
      if (hit)
        return failure(
          'put it on a page',
          `a <${hit.localName}${hit.className ? ` class="${hit.className}"` : ''}> of the page stays as it is`,
          `it became ${after[at]!.split('; ').find((part, index) => part !== calm[at]!.split('; ')[index])}`,
          fix,
        );
      if (added > 0) return failure('put it on a page', 'no style sheet in the page’s head', `${added} there`, fix);
      return undefined;
    },
  },
];

/** The state of the page before the element's module was loaded. */
export const globals = { styleElements: 0 };

export function noteBefore(): void {
  before.globals = new Set(Object.getOwnPropertyNames(window));
  globals.styleElements = document.head.querySelectorAll('style, link[rel=stylesheet]').length;
}

export function noteAfter(left: readonly string[]): void {
  before.left = [...left];
  before.globalsAfter = Object.getOwnPropertyNames(window).filter(name => !before.globals.has(name));
}
