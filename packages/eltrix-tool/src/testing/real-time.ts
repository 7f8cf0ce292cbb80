/** The page's timers, saved before a test can replace them: fake time must not stop the helpers. */
const page = globalThis as unknown as Window & typeof globalThis;

export const real = {
  setTimeout: page.setTimeout,
  clearTimeout: page.clearTimeout,
  setInterval: page.setInterval,
  clearInterval: page.clearInterval,
  requestAnimationFrame: page.requestAnimationFrame,
  cancelAnimationFrame: page.cancelAnimationFrame,
};

/** Calls a function after some milliseconds. @returns a function that cancels it. */
export function after(milliseconds: number, fn: () => void): () => void {
  const timer = real.setTimeout.call(page, fn, milliseconds);
  return () => real.clearTimeout.call(page, timer);
}

export const pause = (milliseconds = 0): Promise<void> => new Promise(resolve => void after(milliseconds, resolve));

/** Resolves with the next frame, or after 100 ms, since a page in the background has none. */
export function nextFrame(): Promise<void> {
  return new Promise(resolve => {
    const stop = after(100, resolve);
    real.requestAnimationFrame?.call(page, () => {
      stop();
      resolve();
    });
  });
}

/** Runs code that takes timers from the page, while they may be fake. */
export async function inRealTime<T>(fn: () => Promise<T>): Promise<T> {
  const present = Object.fromEntries(Object.keys(real).map(name => [name, page[name as 'setTimeout']]));
  Object.assign(page, real);
  try {
    return await fn();
  } finally {
    Object.assign(page, present);
  }
}
