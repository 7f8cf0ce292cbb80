/**
 * Random programs: in any hook, release or effect, elements are moved, removed and changed. Always, `connected`
 * and `disconnected` alternate, a scope is open between them and nothing of it is left afterwards.
 */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, data, each, integer, markup, type Scope, settled, signal, text } from 'eltrix';
import { random } from '../support/random.ts';
import { heard, messages } from './support.ts';

interface Acted extends HTMLElement {
  name: string;
  count: number;
  items: number[];
}

interface Action {
  /** The moment at which it is done, for the first or the second time. */
  readonly at: string;
  readonly time: number;
  readonly what: (typeof actions)[number];
  readonly who: number;
  readonly where: number;
}

const moments = 'assembled connected disconnected attributeChanged propertyChanged moved effect ping release'.split(
  ' ',
);
const actions = ['append', 'append', 'move', 'move', 'remove', 'name', 'count', 'items', 'signal', 'ping'] as const;

const outside = signal(0);
let elements: Acted[] = [];
let places: Element[] = [];
let plan: readonly Action[] = [];
let journey: string[] = [];
let faults: string[] = [];
let times = new Map<string, number>();
let depth = 0;

function act({ what, who, where }: Action): void {
  const [element, place] = [elements[who]!, places[where]!];
  const fits = !element.contains(place);
  journey.push(`${what} ${who}, ${where}`);
  if (what === 'append' && fits) place.append(element);
  else if (what === 'move' && fits && 'moveBefore' in place && element.isConnected && place.isConnected)
    (place as Element & { moveBefore(node: Node, next: Node | null): void }).moveBefore(element, null);
  else if (what === 'remove') element.remove();
  else if (what === 'name') element.name = `n${journey.length}`;
  else if (what === 'count') element.count = journey.length;
  else if (what === 'items') element.items = [where, journey.length + 4];
  else if (what === 'signal') outside.set(journey.length);
  else if (what === 'ping') document.dispatchEvent(new Event('ping'));
}

/** A moment in the life of an element, at which the plan may have something to do. */
function reach(element: HTMLElement, moment: string): void {
  const at = `${elements.indexOf(element as Acted)} ${moment}`;
  const time = times.get(at) ?? 0;
  times.set(at, time + 1);
  journey.push(at);
  if (++depth < 8) for (const action of plan) if (action.at === at && action.time === time) act(action);
  depth--;
}

/** What an element has taken in one connection, and given back. */
interface Connection {
  taken: number;
  readonly released: number[];
  ended: boolean;
}
const connections = new WeakMap<object, Connection[]>();
const openOf = (element: object) => connections.get(element)?.findLast(({ ended }) => !ended);

function check(element: HTMLElement, holds: unknown, fault: string): void {
  if (!holds) faults.push(`${elements.indexOf(element as Acted)} ${fault}`);
}

function assembled(element: HTMLElement): void {
  check(element, !connections.has(element), 'assembled again');
  connections.set(element, []);
  reach(element, 'assembled');
}

function connected(element: HTMLElement, scope: Scope): void {
  check(element, element.isConnected && !openOf(element) && !scope.signal.aborted, 'connected at a wrong time');
  const connection: Connection = { taken: 0, released: [], ended: false };
  connections.get(element)!.push(connection);
  scope.signal.addEventListener('abort', () => (connection.ended = true));
  const take = () => {
    const number = connection.taken++;
    scope.use(() => {
      connection.released.push(number);
      reach(element, 'release');
    });
  };
  take();
  scope.on(document, 'ping', () => {
    check(element, !connection.ended, 'heard after the end');
    reach(element, 'ping');
  });
  reach(element, 'connected');
  scope.effect(() => {
    outside.get();
    check(element, !connection.ended, 'ran after the end');
    reach(element, 'effect');
  });
  take();
}

function disconnected(element: HTMLElement): void {
  check(element, connections.get(element)?.length && !openOf(element), 'disconnected at a wrong time');
  reach(element, 'disconnected');
}

function moved(element: HTMLElement): void {
  check(element, openOf(element), 'moved at a wrong time');
  reach(element, 'moved');
}

/** Static: a build leaves the dependency graph out of its view. */
class ActingAlone extends contract('acting-alone', {
  attributes: { name: text(), count: integer() },
  properties: { items: data<number[]>(() => []) },
}) {
  view() {
    return markup`<p>${() => `${this.name} ${this.count}`}</p>${each(
      () => this.items,
      item => item,
      item => markup`<i>${() => item()}</i>`,
    )}<slot></slot>`;
  }
  assembled() {
    assembled(this);
  }
  connected(scope: Scope) {
    connected(this, scope);
  }
  disconnected() {
    disconnected(this);
  }
  attributeChanged() {
    reach(this, 'attributeChanged');
  }
}
ActingAlone.define();

class ActingTogether extends contract('acting-together', {
  attributes: { name: text(), count: integer() },
  properties: { items: data<number[]>(() => []) },
}) {
  view() {
    return markup`<p>${() => `${this.name} ${this.count} ${outside.get()}`}</p>${each(
      () => this.items,
      item => item,
      item => markup`<i>${() => item()}</i>`,
    )}<slot></slot>`;
  }
  assembled() {
    assembled(this);
  }
  connected(scope: Scope) {
    connected(this, scope);
  }
  disconnected() {
    disconnected(this);
  }
  attributeChanged() {
    reach(this, 'attributeChanged');
  }
  propertyChanged() {
    reach(this, 'propertyChanged');
  }
}
ActingTogether.define();

class ActingInPlace extends contract('acting-in-place', {
  attributes: { name: text(), count: integer() },
  properties: { items: data<number[]>(() => []) },
}) {
  view() {
    return markup`<p>${() => `${this.name} ${this.count} ${outside.get()}`}</p>${each(
      () => this.items,
      item => item,
      item => markup`<i>${() => item()}</i>`,
    )}<slot></slot>`;
  }
  assembled() {
    assembled(this);
  }
  connected(scope: Scope) {
    connected(this, scope);
  }
  disconnected() {
    disconnected(this);
  }
  moved() {
    moved(this);
  }
}
ActingInPlace.define();

const tags = ['acting-alone', 'acting-together', 'acting-in-place'];

/** The faults of a program. @param left the actions that it leaves out. */
async function faultsOf(seed: number, left: ReadonlySet<number>): Promise<string[]> {
  const next = random(seed);
  const actionsOf = (count: number, first: number) =>
    Array.from({ length: count }, (): Action => {
      const at = `${next(4)} ${moments[next(moments.length)]}`;
      return { at, time: next(2), what: actions[next(actions.length)]!, who: next(4), where: next(4) };
    }).filter((_, i) => !left.has(first + i));
  const stage = document.createElement('main');
  stage.append(document.createElement('section'));
  document.body.append(stage);
  [journey, faults, times, depth] = [[], [], new Map(), 0];
  elements = Array.from({ length: 4 }, () => document.createElement(tags[next(tags.length)]!) as Acted);
  places = [stage, stage.firstElementChild!, elements[0]!, elements[1]!];
  plan = actionsOf(planned, 0);
  const { errors } = await heard(async () => {
    for (const action of actionsOf(steps, planned)) {
      act(action);
      if (next(2) === 0) await settled();
    }
    plan = [];
    await settled();
  });
  faults.push(...messages(errors));
  for (const element of elements) {
    check(element, element.isConnected === !!openOf(element), 'is connected without a scope, or the opposite');
    if (!element.isConnected) continue;
    const around = element.localName === 'acting-alone' ? '' : ` ${outside.get()}`;
    const expected = `${element.name} ${element.count}${around}${element.items.join('')}`;
    check(element, element.shadowRoot!.textContent === expected, `shows ${element.shadowRoot!.textContent}`);
  }
  for (const element of [...elements, stage]) element.remove();
  for (const element of elements)
    for (const { taken, released, ended } of connections.get(element) ?? [])
      check(element, ended && released.length === taken && new Set(released).size === taken, 'has kept something');
  return faults;
}

const programs = 100;
const planned = 16;
const steps = 10;

it(`${programs} random programs`, { timeout: 60_000 }, async () => {
  for (let seed = 1; seed <= programs; seed++) {
    let found = await faultsOf(seed, new Set());
    if (found.length === 0) continue;
    const left = new Set<number>();
    for (let i = 0; i < planned + steps; i++) {
      const fewer = await faultsOf(seed, new Set([...left, i]));
      if (fewer.length > 0) [found] = [fewer, left.add(i)];
    }
    await faultsOf(seed, left);
    assert.deepEqual({ seed, elements: elements.map(({ localName }) => localName), journey, faults: found }, undefined);
  }
});
