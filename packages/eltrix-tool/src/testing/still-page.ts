/** Settles a page before a picture is taken. */
import { nextFrame } from './real-time.ts';

/** A tree and its open shadow trees. */
export function* treesOf(root: Element | ShadowRoot): Generator<Element | ShadowRoot> {
  yield root;
  if (root instanceof Element && root.shadowRoot) yield* treesOf(root.shadowRoot);
  for (const inner of root.querySelectorAll('*')) if (inner.shadowRoot) yield* treesOf(inner.shadowRoot);
}

/** Waits for fonts and images, ends animations, hides the caret. @returns a function that undoes it. */
export async function stillPage(): Promise<() => void> {
  const trees = [...treesOf(document.documentElement)];
  await document.fonts.ready;
  const images = trees.flatMap(tree => [...tree.querySelectorAll('img')]);
  await Promise.all(images.map(image => image.decode().catch(() => {})));
  const animations = trees.flatMap(tree =>
    tree instanceof Element ? tree.getAnimations({ subtree: true }) : tree.getAnimations(),
  );
  const running: Animation[] = [];
  for (const animation of animations) {
    if (animation.playState !== 'running') continue;
    const { endTime } = animation.effect?.getComputedTiming() ?? {};
    if (Number.isFinite(Number(endTime))) animation.finish();
    else {
      animation.pause();
      animation.currentTime = 0;
      running.push(animation);
    }
  }
  let focused = document.activeElement;
  while (focused?.shadowRoot?.activeElement) focused = focused.shadowRoot.activeElement;
  const { style } = (focused ?? document.body) as HTMLElement;
  const caret = style?.caretColor;
  style?.setProperty('caret-color', 'transparent');
  // Two frames: then changes have been drawn. Where there are no frames, the driver's picture creates one.
  await nextFrame();
  await nextFrame();
  return () => {
    for (const animation of running) animation.play();
    if (caret) style.caretColor = caret;
    else style?.removeProperty('caret-color');
    if (focused instanceof HTMLElement && focused.getAttribute('style') === '') focused.removeAttribute('style');
  };
}
