import { type Axe, fixOf, pathOf, type Violation, without } from '../../../testing/axe.ts';
import { frame } from '../idle.ts';
import type { Failure } from '../model.ts';
import { controlsIn } from '../provoke.ts';
import { quiet } from '../quiet.ts';
import { deepElements, type Stage } from '../stage.ts';
import { clickable, real } from '../watch.ts';
import { failure, type Rule } from './rule.ts';

/** Audit rules about names and roles, reported as `name-role`. */
const naming = new Set([
  'button-name',
  'label',
  'link-name',
  'select-name',
  'input-button-name',
  'input-image-alt',
  'image-alt',
  'svg-img-alt',
  'role-img-alt',
  'object-alt',
  'aria-command-name',
  'aria-input-field-name',
  'aria-toggle-field-name',
  'aria-meter-name',
  'aria-progressbar-name',
  'aria-tooltip-name',
  'aria-treeitem-name',
  'aria-dialog-name',
  'form-field-multiple-labels',
  'aria-roles',
  'aria-allowed-role',
  'empty-heading',
  'frame-title',
  'summary-name',
]);
/** Audit rules about whole pages, which a specimen is not. */
const off = [
  'region',
  'page-has-heading-one',
  'landmark-one-main',
  'document-title',
  'html-has-lang',
  'bypass',
  'heading-order',
  'frame-tested',
];

/** The results of showing each specimen once: audit, keyboard access, other directions and sizes. */
interface Looked {
  readonly violations: readonly (Violation & { title: string })[];
  readonly stuck: Failure | undefined;
  readonly rtl: Failure | undefined;
  readonly large: Failure | undefined;
}

let looking: Promise<Looked> | undefined;

function lookAtAll(stage: Stage): Promise<Looked> {
  looking ??= (async () => {
    await import(/* @vite-ignore */ new URL('axe.js', import.meta.url).href);
    const { axe } = globalThis as unknown as { axe: Axe };
    const violations: (Violation & { title: string })[] = [];
    let [stuck, rtl, large]: (Failure | undefined)[] = [];
    for (const [at, specimen] of stage.task.specimens.entries()) {
      const { box, element, end } = await stage.play(specimen, 300 + at);
      const found = await axe.run(box, without(off));
      violations.push(...found.violations.map(violation => ({ ...violation, title: specimen.title })));
      stuck ??= unreachable(element, specimen.title);
      rtl ??= await newlyClipped(
        box,
        root => {
          root.dir = 'rtl';
          return () => root.removeAttribute('dir');
        },
        `turned the page from right to left in "${specimen.title}"`,
        'Use logical properties: margin-inline-start, inset-inline-end, text-align: start.',
      );
      large ??= await newlyClipped(
        box,
        root => {
          root.style.fontSize = '200%';
          return () => root.style.removeProperty('font-size');
        },
        `doubled the size of text in "${specimen.title}"`,
        'Give heights and widths in em or rem, or as min-height; a box with a fixed height cuts its text off.',
      );
      end();
    }
    return { violations, stuck, rtl, large };
  })();
  return looking;
}

/** Reports each finding once, with the first specimen that has it. */
function failuresFrom(violations: readonly (Violation & { title: string })[]): Failure[] {
  const found = new Map<string, Failure>();
  for (const violation of violations)
    for (const node of violation.nodes) {
      const seen = `${pathOf(node).slice(0, 120)}: ${violation.help}`;
      if (found.has(seen)) continue;
      const did = `audited "${violation.title}"`;
      found.set(seen, failure(did, `no finding of ${violation.id}`, seen, fixOf(node, violation)));
    }
  return [...found.values()];
}

/** Boxes that hide a part of their content, by their path. */
function clipped(root: HTMLElement): Map<Element, string> {
  const found = new Map<Element, string>();
  for (const node of deepElements(root)) {
    if (!(node instanceof HTMLElement) || node.clientWidth <= 2 || node.clientHeight <= 2) continue;
    const { overflowX, overflowY, textOverflow } = getComputedStyle(node);
    const hides = (overflow: string) => overflow === 'hidden' || overflow === 'clip';
    const text = (node.textContent ?? '').trim();
    if (!text) continue;
    if (hides(overflowX) && textOverflow !== 'ellipsis' && node.scrollWidth > node.clientWidth + 2)
      found.set(node, 'width');
    else if (hides(overflowY) && node.scrollHeight > node.clientHeight + 2) found.set(node, 'height');
  }
  return found;
}

async function newlyClipped(
  box: HTMLElement,
  change: (root: HTMLElement) => () => void,
  did: string,
  fix: string,
): Promise<Failure | undefined> {
  const isWide = () => document.documentElement.scrollWidth > innerWidth + 2;
  const [before, wide] = [clipped(box), isWide()];
  const undo = change(document.documentElement);
  await quiet();
  const [after, nowWide] = [clipped(box), isWide()];
  undo();
  for (const [node, side] of after)
    if (!before.has(node))
      return failure(
        did,
        'no text is cut off',
        `<${node.localName}${node.className ? ` class="${node.className}"` : ''}> cuts its text off in ${side}`,
        fix,
      );
  return nowWide && !wide ? failure(did, 'nothing wider than the page', 'the page scrolls sideways', fix) : undefined;
}

/** Clickable nodes that are not keyboard accessible. */
function unreachable(element: HTMLElement, title: string): Failure | undefined {
  const stuck = controlsIn(element).find(node => {
    if (!clickable.get(node)?.has('click') || node.matches('label, form, fieldset, dialog')) return false;
    if (node.matches(':disabled') || node.getClientRects().length === 0) return false;
    const reachable = node.tabIndex >= 0 || node.matches('a[href], button, input, select, textarea, summary');
    // An element that only handles clicks on its content need not be focusable.
    const inside = node.querySelector('button, a[href], input, select, textarea, summary, [tabindex], slot') !== null;
    const roving = node.hasAttribute('tabindex') && node.closest(composites) !== null;
    return !reachable && !inside && !roving && !isInKeyed(node);
  });
  if (!stuck) return undefined;
  return failure(
    `looked for a way to each thing that can be clicked in "${title}"`,
    'the keyboard reaches it',
    `${nameOf(stuck)} can only be clicked`,
    'Make it a <button type="button">, or give it a role, tabindex="0" and a key handler.',
  );
}

/** Whether it is a part of something that has the focus and handles keys, as the stars of a slider. */
function isInKeyed(node: Element): boolean {
  for (let at = node.parentElement; at; at = at.parentElement) {
    const types = clickable.get(at);
    if (at.tabIndex >= 0 && ['keydown', 'keyup', 'keypress'].some(type => types?.has(type))) return true;
  }
  return false;
}

/** Roles in which arrow keys move the focus (ARIA, managing focus). */
const composites =
  '[role=listbox], [role=grid], [role=tree], [role=tablist], [role=radiogroup], [role=menu], [role=toolbar]';

const focusStyles = [
  'outlineStyle',
  'outlineWidth',
  'outlineColor',
  'boxShadow',
  'borderTopColor',
  'borderTopWidth',
  'borderBottomColor',
  'borderBottomWidth',
  'backgroundColor',
  'color',
  'textDecorationLine',
  'textDecorationStyle',
  'transform',
] as const;

function look(node: Element): string {
  // The focus indicator may be on the element, inside it, around it, or on its host.
  const shown = [...node.querySelectorAll('*')].slice(0, 20).map(inner => {
    const style = getComputedStyle(inner);
    return focusStyles.map(name => style[name]).join('|');
  });
  for (
    let at: Element | null = node, steps = 0;
    at && steps < 4;
    at = at.parentElement ?? ((at.getRootNode() as ShadowRoot).host as Element | undefined) ?? null, steps++
  ) {
    const style = getComputedStyle(at);
    shown.push(
      focusStyles.map(name => style[name]).join('|'),
      getComputedStyle(at, '::after').boxShadow,
      getComputedStyle(at, '::after').outlineStyle,
      getComputedStyle(at, '::before').outlineStyle,
    );
  }
  return shown.join('\n');
}

function nameOf(node: Element): string {
  const text = (node.getAttribute('aria-label') ?? node.textContent ?? '').trim().slice(0, 24);
  return `<${node.localName}${node.className && typeof node.className === 'string' ? ` class="${node.className}"` : ''}>${text ? ` "${text}"` : ''}`;
}

/** Whether styles say nothing of the focus of such a control without any of the page, as of a colour in WebKit. */
function isSilent({ localName, type }: Element & { readonly type?: string }): boolean {
  const host = document.createElement('div');
  const control = document.createElement(localName) as HTMLInputElement;
  if (localName === 'input' && type) control.type = type;
  host.attachShadow({ mode: 'open' }).append(control);
  document.body.append(host);
  const before = look(control);
  control.focus({ focusVisible: true } as FocusOptions);
  const isSame = control.matches(':focus-visible') && before === look(control);
  host.remove();
  return isSame;
}

/** Runs a function while this page is in front: of several pages in one browser, only one has the focus. */
function inFront<T>(fn: () => Promise<T>): Promise<T> {
  return navigator.locks.request('eltrix-check-front', async () => {
    await real.fetch.call(window, new URL(`front${location.search}`, import.meta.url));
    return fn();
  });
}

/** How long to wait for the focus, in milliseconds; a page that did not get it once does not wait again. */
let patience = 5000;

export const accessRules: readonly Rule[] = [
  {
    code: 'name-role',
    run: async stage => failuresFrom((await lookAtAll(stage)).violations.filter(({ id }) => naming.has(id))),
  },
  {
    code: 'audit',
    run: async stage => failuresFrom((await lookAtAll(stage)).violations.filter(({ id }) => !naming.has(id))),
  },
  { code: 'keyboard-reach', run: async stage => (await lookAtAll(stage)).stuck },
  {
    code: 'focus-visible',
    run: stage =>
      inFront(async () => {
        const { element, end } = await stage.play(stage.first, 600);
        try {
          for (const node of controlsIn(element)) {
            if (node.tabIndex < 0 || node.matches(':disabled') || node.getClientRects().length === 0) continue;
            (document.activeElement as HTMLElement | null)?.blur();
            const before = look(node);
            node.focus({ focusVisible: true } as FocusOptions);
            await quiet();
            // The focus may arrive later in a page that was in the background.
            for (
              const end = performance.now() + patience;
              !node.matches(':focus-visible') && performance.now() < end;
            ) {
              await frame();
              node.focus({ focusVisible: true } as FocusOptions);
            }
            if (!node.matches(':focus-visible')) {
              patience = 100;
              continue;
            }
            const after = look(node);
            node.blur();
            if (before === after && !isSilent(node))
              return failure(
                `gave ${nameOf(node)} the focus`,
                'it shows',
                'it looks as before',
                'Do not take the outline away, or draw something else for :focus-visible.',
              );
          }
          return undefined;
        } finally {
          end();
        }
      }),
  },
  { code: 'right-to-left', run: async stage => (await lookAtAll(stage)).rtl },
  { code: 'large-text', run: async stage => (await lookAtAll(stage)).large },
];
