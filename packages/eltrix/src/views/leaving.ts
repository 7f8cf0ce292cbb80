/** Animations of elements before they are removed, and when they are inserted. */
import { report } from '../signals/report.ts';
import { untracked } from '../signals/state.ts';
import { departing } from '../view/departing.ts';
import { type Attachable, type Attached, attach } from '../view/element-expression.ts';
import { nextSent } from '../view/taking-over.ts';

/**
 * What an element does: keyframes for `element.animate` (Web Animations §5.2), or a function. What the function returns is
 * waited for: an Animation, or a promise.
 */
export type Motion = Keyframe[] | PropertyIndexedKeyframes | ((element: HTMLElement) => unknown);

type Timing = number | KeyframeAnimationOptions;

/** Whether the user prefers reduced motion (Media Queries 5 §12.1). */
const isReduced = () => globalThis.matchMedia?.('(prefers-reduced-motion: reduce)').matches;

function begin(element: HTMLElement, motion: Motion, timing: Timing | undefined): unknown {
  const made: unknown =
    typeof motion === 'function' ? untracked(() => motion(element)) : element.animate(motion, timing ?? 200);
  // That of an element made in another window's document is of that window.
  return (made as Partial<Animation> | null | undefined)?.finished ?? made;
}

/** The animation of each element before its removal. */
const leavers = new WeakMap<Node, Leaving>();
/** Elements that are animating out. */
const leavingNow = new WeakSet<Node>();

class Leaving implements Attachable {
  constructor(
    readonly motion: Motion,
    readonly timing: Timing | undefined,
  ) {}

  [attach](element: Element): Attached {
    leavers.set(element, this);
    return {
      // Detached before the element is removed, or because the element gets another value.
      dispose: () =>
        queueMicrotask(() => {
          if (leavers.get(element) === this) leavers.delete(element);
        }),
    };
  }
}

departing.has = node => leavingNow.has(node);
departing.begin = node => {
  const leaving = leavers.get(node);
  if (leaving === undefined || !node.isConnected || isReduced()) return false;
  leavers.delete(node);
  const element = node as HTMLElement;
  let ending: unknown;
  try {
    ending = begin(element, leaving.motion, leaving.timing);
  } catch (error) {
    report(error, element);
    return false;
  }
  leavingNow.add(node);
  // A leaving element is only an image: inert for pointer, keyboard and assistive technology.
  element.inert = true;
  const end = () => {
    leavingNow.delete(node);
    node.remove();
  };
  Promise.resolve(ending).then(end, error => {
    end();
    // A cancelled animation ends too.
    if ((error as Error | undefined)?.name !== 'AbortError') report(error, element);
  });
  return true;
};

/**
 * Lets an element finish an animation or a promise before it is taken out, where it stands at the top of a row or of
 * markup that is shown on a condition. Meanwhile it is inert, and its expressions are at rest. Nothing is waited for if the reader prefers
 * reduced motion, or if a part of the view around it is taken out.
 *
 * @param timing in milliseconds, or the options of `element.animate`; 200 ms unless given.
 * @example <li ${leaving([{ opacity: 1 }, { opacity: 0 }], 150)}>
 */
export function leaving(motion: Motion, timing?: Timing): object {
  return new Leaving(motion, timing);
}

const entered: Attached = { dispose() {} };

/**
 * Lets an element begin with an animation when it comes into a view that stands already: a new row, markup whose condition
 * comes true. Not with the first view of an element, and not if the reader prefers reduced motion.
 *
 * @example <li ${entering([{ transform: 'scale(0)' }, {}])}>
 */
export function entering(motion: Motion, timing?: Timing): object {
  return {
    [attach](element, owner, present) {
      if (present === entered || nextSent() || (owner.root && owner.root.firstChild === null) || isReduced())
        return entered;
      // Its nodes are inserted first.
      queueMicrotask(() => {
        if (!element.isConnected) return;
        try {
          begin(element as HTMLElement, motion, timing);
        } catch (error) {
          report(error, element);
        }
      });
      return entered;
    },
  } satisfies Attachable;
}
