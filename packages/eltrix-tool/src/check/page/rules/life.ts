import { firstDifference } from '../first-difference.ts';
import { idle, isActive } from '../idle.ts';
import type { Failure } from '../model.ts';
import { controlsIn, operate, provoke } from '../provoke.ts';
import { quiet } from '../quiet.ts';
import { samplesOf, shown } from '../samples.ts';
import { type Noise, snapshot } from '../snapshot.ts';
import { type Stage, Unsaid } from '../stage.ts';
import { errorsIn, leftSince, real, sent, type Taken, takenNow } from '../watch.ts';
import { failure, type Rule } from './rule.ts';

type Properties = HTMLElement & Record<string, unknown>;

const wait = (ms: number) => new Promise<void>(resolve => real.setTimeout.call(window, resolve, ms));

async function moved(element: HTMLElement, how: 'again' | 'elsewhere' | 'moveBefore'): Promise<void> {
  const parent = element.parentElement;
  if (!parent) throw new Unsaid('it takes itself off the page');
  if (how === 'again') {
    element.remove();
    await quiet();
    parent.append(element);
  } else if (how === 'elsewhere') {
    const other = document.createElement('div');
    parent.append(other);
    other.append(element);
  } else {
    const other = document.createElement('div');
    parent.append(other);
    (other as unknown as { moveBefore(node: Node, before: Node | null): void }).moveBefore(element, null);
  }
  await quiet();
  await idle();
}

const ways = () =>
  ['again', 'elsewhere', ...('moveBefore' in Element.prototype ? ['moveBefore'] : [])] as (
    | 'again'
    | 'elsewhere'
    | 'moveBefore'
  )[];
const words = {
  again: 'took it out and put it back',
  elsewhere: 'moved it',
  moveBefore: 'moved it with moveBefore()',
} as const;

function attributesOf(element: HTMLElement): string {
  return [...element.attributes]
    .map(({ name, value }) => `${name}=${JSON.stringify(value)}`)
    .sort()
    .join('\n');
}

const gc = (globalThis as { gc?: (options: { type: 'major'; execution: 'async' }) => Promise<void> }).gc;

/**
 * Collects garbage in a separate task: from within a script, V8 treats everything on its stack that looks like an
 * address as a reference, even if it comes from finished calls.
 */
const collect = gc && (() => gc({ type: 'major', execution: 'async' }));

/** Moves the element, and back between its neighbours, on which its appearance may depend. */
async function inContext(element: HTMLElement, how: 'again' | 'elsewhere' | 'moveBefore'): Promise<void> {
  const [parent, next] = [element.parentElement, element.nextSibling];
  await moved(element, how);
  if (!parent || element.parentElement === null) throw new Unsaid('it takes itself off the page');
  const left = element.parentElement;
  if (how === 'moveBefore')
    (parent as unknown as { moveBefore(node: Node, before: Node | null): void }).moveBefore(element, next);
  else parent.insertBefore(element, next);
  if (left !== parent) left.remove();
  await quiet();
  await idle();
}

/** The difference from an element that was not moved, after both had time to settle. */
async function fromFresh(stage: Stage, element: HTMLElement, noise: Noise) {
  const { box, element: fresh } = await stage.stage();
  let difference: ReturnType<typeof firstDifference>;
  // On a busy machine sizes are reported late.
  for (const milliseconds of [300, 1000, 2500]) {
    await wait(milliseconds);
    difference = firstDifference(snapshot(fresh, noise), snapshot(element, noise));
    if (!difference) break;
  }
  box.remove();
  return difference;
}

/** Resources that the element takes twice when it is connected again. */
let doubled: Promise<Failure | undefined> | undefined;

function findDoubled(stage: Stage): Promise<Failure | undefined> {
  doubled ??= (async () => {
    const noise = await stage.noise();
    const { box, element } = await stage.stage();
    const before = snapshot(element, noise);
    try {
      for (const how of ways()) {
        for (let times = 0; times < 3; times++) {
          const [error] = await errorsIn(() => inContext(element, how));
          const did = `${words[how]}, ${times + 1} time${times ? 's' : ''}`;
          const fix = 'Create the view once. connected() is called at each connection: release its resources.';
          if (error) return failure(did, 'no error', error, fix);
          const difference =
            firstDifference(before, snapshot(element, noise)) && (await fromFresh(stage, element, noise));
          if (difference) return failure(did, difference.expected, difference.seen, fix);
        }
      }
      return undefined;
    } finally {
      box.remove();
    }
  })();
  return doubled;
}

/** Resources that remain after the element was removed. */
let left: Promise<readonly Taken[]> | undefined;

function findLeft(stage: Stage): Promise<readonly Taken[]> {
  left ??= (async () => {
    // The first element may take resources for all later ones.
    const { box: early } = await stage.stage();
    early.remove();
    await quiet();
    await wait(30);
    const before = takenNow();
    for (let times = 0; times < 2; times++) {
      const { box, element } = await stage.stage();
      await provoke(element);
      await moved(element, 'again');
      box.remove();
      await quiet();
    }
    await wait(60);
    return leftSince(before);
  })();
  return left;
}

interface Reaction {
  /** The tag of the control. */
  readonly control: string;
  readonly reacts: boolean;
}

const mostControls = 12;

/**
 * Operates the controls of a fresh element one after the other: whether the element changes, or sends an event.
 * @param isMoved whether it is taken out and put back before.
 * @param known the reactions of another one; controls without a reaction are not waited for again.
 * @param pause milliseconds between controls, in which answers to the earlier ones come.
 */
async function reactions(stage: Stage, isMoved: boolean, known?: readonly Reaction[], pause = 0): Promise<Reaction[]> {
  const noise = await stage.noise();
  const { box, element } = await stage.stage();
  let controls = controlsIn(element);
  if (isMoved) await moved(element, 'again');
  stage.stays(element);
  // A view that is created again has other nodes.
  if (!controls.every(control => control.isConnected)) controls = controlsIn(element);
  const found: Reaction[] = [];
  for (const [at, control] of controls.slice(0, mostControls).entries()) {
    if (pause > 0) await wait(pause);
    if (!control.isConnected || !element.isConnected) break;
    const before = snapshot(element, noise);
    const events = sent.length;
    const hasReacted = () => snapshot(element, noise) !== before || sent.length > events;
    await operate(control);
    if (known?.[at]?.reacts !== false) {
      if (!hasReacted()) await wait(50);
      // A request or a timer may be needed for it.
      for (const milliseconds of [250, 600]) if (!hasReacted() && (pause > 0 || isActive())) await wait(milliseconds);
    }
    found.push({ control: control.localName, reacts: hasReacted() });
  }
  box.remove();
  await quiet();
  return found;
}

/** Finds a control that works in a fresh element, and does not after the element was taken out and put back. */
async function findDeaf(stage: Stage): Promise<Failure | undefined> {
  const first = await reactions(stage, false);
  if (!first.some(({ reacts }) => reacts)) throw new Unsaid('nothing in it reacts to clicks or keys');
  const firstDeaf = async (pause?: number) => {
    const found = await reactions(stage, true, first, pause);
    return first.findIndex(({ reacts, control }, at) => reacts && found[at]?.control === control && !found[at].reacts);
  };
  const at = await firstDeaf();
  if (at < 0) return undefined;
  // The same again and slower, since a random or slow element may react differently each time.
  const again = await reactions(stage, false, first, 600);
  if (!again[at]?.reacts || (await firstDeaf(600)) !== at) return undefined;
  return failure(
    `${words.again}, and used ${at === 0 ? 'its' : `control ${at + 1} of ${first.length}, a`} <${first[at]!.control}>`,
    'a change of the view, or an event, as before',
    'nothing happens',
    'Add listeners in view(), or in connected(scope) with scope.on(): connected() is called at each connection.',
  );
}

export const lifeRules: readonly Rule[] = [
  { code: 'no-doubling', run: findDoubled },
  { code: 'works-after-move', run: findDeaf },
  {
    code: 'gives-back',
    async run(stage) {
      const left = new Map<string, number>();
      for (const { what } of await findLeft(stage)) left.set(what, (left.get(what) ?? 0) + 1);
      return [...left].map(([what, times]) =>
        failure(
          'put it on the page, used it, and took it away, twice',
          'nothing left',
          `${what}${times > 1 ? `, ${times} times` : ''}`,
          'Take it through the scope of connected(): scope.on(), scope.every(), scope.use(() => observer.disconnect()).',
        ),
      );
    },
  },
  {
    code: 'not-kept-alive',
    applies: () => (collect ? undefined : 'this engine cannot collect garbage on request'),
    async run(stage) {
      // Leftovers keep it alive; gives-back reports them.
      if ((await findLeft(stage)).length > 0) return undefined;
      const references: WeakRef<HTMLElement>[] = [];
      for (let times = 0; times < 6; times++) await once();
      async function once(): Promise<void> {
        const { box, element } = await stage.stage();
        references.push(new WeakRef(element));
        box.remove();
        // Events that it dispatched refer to it.
        sent.length = 0;
      }
      let alive = 0;
      // A pending request may keep it alive for a while, and the engine itself keeps the last element.
      for (const pause of [2, 2, 2, 20, 60, 200, 400, 1000, 3000]) {
        await wait(pause);
        await collect!();
        alive = references.filter(reference => reference.deref()).length;
        if (alive <= 1) return undefined;
      }
      return failure(
        'took six of them off the page and collected garbage',
        'all of them are gone',
        `${alive} are alive`,
        'Something outside references them: a list, a closure on window or document, a global registry. Remove the reference in disconnected().',
      );
    },
  },
  {
    code: 'state-kept',
    async run(stage) {
      const { box, element } = await stage.stage();
      const properties = stage.task.description.properties;
      const target = element as Properties;
      try {
        for (const property of properties) {
          const { name, attribute } = property;
          if (attribute !== undefined) {
            const [sample] = samplesOf(property, stage.task);
            if (sample) target.setAttribute(attribute, sample.text);
          } else if (target[name] !== null && typeof target[name] === 'object') {
            // A different object with the same shape as the default.
            try {
              target[name] = structuredClone(target[name]);
            } catch {
              // An object that cannot be cloned is used as it is.
            }
          }
        }
        await quiet();
        const values = properties.map(({ name }) => target[name]);
        const attributes = attributesOf(element);
        for (const how of ways()) {
          await moved(element, how);
          for (const [at, { name }] of properties.entries()) {
            if (Object.is(target[name], values[at])) continue;
            if (shown(target[name]) === shown(values[at]) && typeof values[at] === 'object') continue;
            return failure(
              words[how],
              `${name} is ${shown(values[at])}, as before`,
              `${name} is ${shown(target[name])}`,
              'Set initial values where they are declared, not in connected().',
            );
          }
          const difference = firstDifference(attributes, attributesOf(element));
          if (difference)
            return failure(
              words[how],
              difference.expected,
              difference.seen,
              'Set initial values where they are declared, not in connected().',
            );
        }
        return undefined;
      } finally {
        box.remove();
      }
    },
  },
  {
    code: 'adoption',
    async run(stage) {
      const { box, element } = await stage.stage();
      const next = element.nextSibling;
      const parent = element.parentNode!;
      const frame = document.createElement('iframe');
      frame.src = new URL(`blank?tag=${stage.tag}`, import.meta.url).href;
      // With the size of the page, since styles may depend on it.
      Object.assign(frame.style, { width: `${innerWidth}px`, height: `${innerHeight}px`, border: '0' });
      box.append(frame);
      await new Promise(resolve => frame.addEventListener('load', resolve, { once: true }));
      try {
        const noise = await stage.noise();
        const before = snapshot(element, noise);
        const display = getComputedStyle(element).display;
        const fix =
          'Create shared style sheets again for another document, and read this.ownerDocument when it is needed.';
        for (let times = 0; times < 2; times++) {
          const [error] = await errorsIn(async () => {
            frame.contentDocument!.body.append(element);
            await quiet();
            if (!element.isConnected) throw new Unsaid('it takes itself off the page');
            const there = frame.contentWindow!.getComputedStyle(element).display;
            if (there !== display) throw new Error(`display is "${there}" there, and was "${display}"`);
            parent.insertBefore(element, next);
            await quiet();
            await idle();
          }).catch((thrown: unknown) => {
            if (thrown instanceof Unsaid) throw thrown;
            return [(thrown as Error).message];
          });
          const did = 'moved it into the document of a frame, and back';
          if (error) return failure(did, 'it works there', error, fix);
          const difference = firstDifference(before, snapshot(element, noise));
          if (difference && !(await findDoubled(stage)) && (await fromFresh(stage, element, noise)))
            return failure(did, difference.expected, difference.seen, fix);
        }
        return undefined;
      } finally {
        box.remove();
      }
    },
  },
];
