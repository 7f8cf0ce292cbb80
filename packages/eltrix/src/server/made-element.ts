/** Creates a custom element on a server: constructs it, sets its properties, calls `view()`. */
import { contractKey } from '../element/contract-key.ts';
import { coreKey, type HasCore } from '../element/core-key.ts';
import type { Driver } from '../element/driver.ts';
import { type Contract, declarations } from '../element/plan.ts';
import type { Sent } from '../element/sent.ts';
import { untracked } from '../signals/state.ts';
import { isMarkup, type Markup } from '../view/piece.ts';
import type { Child, RenderContext } from './context.ts';
import { type ElementClass, makeHost } from './host.ts';
import { renderError } from './render-error.ts';

const none: ReadonlySet<string> = new Set();

export interface MadeElement {
  readonly host: HTMLElement;
  readonly driver: Driver;
  /** Whether its class has a view; otherwise the content is shown. */
  readonly hasView: boolean;
  /** Undefined without a view, and for one that shows nothing. */
  readonly piece: Markup | undefined;
  readonly sent: Sent | undefined;
}

/** @returns undefined for an element that is left to the browser. */
export function makeElement(
  context: RenderContext,
  Class: ElementClass,
  tag: string,
  attributes: Map<string, string>,
  properties: Readonly<Record<string, unknown>>,
  parent: object | undefined,
  children: readonly Child[],
): MadeElement | undefined {
  const contract = Class[contractKey]!;
  if (isLeft(contract)) return undefined;
  try {
    const host = makeHost(Class, tag, attributes, parent);
    const driver = (host as HasCore)[coreKey] as Driver;
    const sent = assign(host, contract, properties);
    driver.shown = true;
    driver.filled =
      children.length === 0 ? none : new Set(children.flatMap(({ slot, isBlank }) => (isBlank ? [] : [slot])));
    let piece: unknown;
    const hasView = 'view' in host;
    if (hasView) piece = untracked(() => (host as unknown as { view(): unknown }).view());
    if (piece && !isMarkup(piece)) throw new TypeError('view() has to return markup`…`, or nothing');
    return { host, driver, hasView, piece: (piece || undefined) as Markup | undefined, sent };
  } catch (error) {
    context.failed(renderError(tag, '', error));
    return undefined;
  }
}

const left = new WeakMap<Contract, boolean>();

/** Whether the contract leaves an element to the browser. */
function isLeft(contract: Contract): boolean {
  let is = left.get(contract);
  if (is === undefined) {
    const { shadow } = contract;
    const said = [...declarations(contract)].find(({ render }) => render !== undefined);
    // `<template>` has no attribute for this option, so only a script can create such a root.
    is = said?.render === false || (typeof shadow === 'object' && shadow.slotAssignment === 'manual');
    left.set(contract, is);
  }
  return is;
}

/** Sets properties; an attribute reflects those of the platform. Values without an attribute are sent as data, so that the element in the browser gets them. */
function assign(
  host: HTMLElement,
  { members }: Contract,
  properties: Readonly<Record<string, unknown>>,
): Sent | undefined {
  let sent: Record<string, unknown> | undefined;
  for (const name in properties) {
    const value = properties[name];
    if (value === undefined) continue;
    (host as unknown as Record<string, unknown>)[name] = value;
    const member = members.find(member => member.name === name);
    if (member !== undefined && !member.reflects && isPlain(value, 0)) (sent ??= {})[name] = value;
  }
  return sent && { properties: sent };
}

/** Whether a value survives JSON. */
function isPlain(value: unknown, depth: number): boolean {
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return true;
  if (typeof value === 'number') return Number.isFinite(value) && !Object.is(value, -0);
  if (typeof value !== 'object' || depth > 100) return false;
  if (Array.isArray(value)) return value.every(item => isPlain(item, depth + 1));
  const prototype = Object.getPrototypeOf(value) as unknown;
  if (prototype !== Object.prototype && prototype !== null) return false;
  return Object.values(value).every(item => isPlain(item, depth + 1));
}
