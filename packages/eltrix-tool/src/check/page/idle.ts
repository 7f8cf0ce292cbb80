/** Waits until nothing is pending that may change the appearance of an element. */
import { quiet } from './quiet.ts';
import { real, type Taken, takenNow } from './watch.ts';

/**
 * Waits for the next frame and its effects. A page in the background has no frames and does not wait.
 * @param patience milliseconds after which a page counts as one in the background.
 */
export async function frame(patience = 40): Promise<void> {
  await new Promise<void>(resolve => {
    const id = real.setTimeout.call(window, resolve, patience);
    real.requestAnimationFrame.call(window, () => {
      real.clearTimeout.call(window, id);
      resolve();
    });
  });
  await quiet();
}

/** Whether there is activity that may change the appearance without user input. */
export function isActive(): boolean {
  return [...takenNow().values()].some(
    ({ kind }) => kind === 'timer' || kind === 'animation frame' || kind === 'request',
  );
}

/**
 * Waits until no request is pending and no short timer runs, at most a second and a half, and observers have been
 * notified.
 */
export async function idle(): Promise<void> {
  const end = performance.now() + 1500;
  const isBusy = ({ kind, what }: Taken) =>
    kind === 'request' || (kind === 'timer' && Number(/^setTimeout\(…, (\d+)/.exec(what)?.[1] ?? 1e9) < 1000);
  for (;;) {
    await quiet();
    if (![...takenNow().values()].some(isBusy) || performance.now() > end) break;
    await new Promise<void>(resolve => real.setTimeout.call(window, resolve, 10));
  }
  // The engine reports sizes and intersections once a frame, and their listeners may wait for the next frame. A page
  // that is always animated does not wait.
  const isFrame = ({ kind }: Taken) => kind === 'animation frame';
  const isObserver = ({ kind, what }: Taken) => kind === 'observer' && /Resize|Intersection/.test(what);
  if (![...takenNow().values()].some(one => isFrame(one) || isObserver(one))) return;
  await frame(250);
  for (let frames = 0; frames < 2 && [...takenNow().values()].some(isFrame); frames++) await frame(250);
}
