import { after } from './real-time.ts';

/** @throws Error after a time limit, in milliseconds. */
export async function inTime<T>(
  limit: number,
  fn: () => T | Promise<T>,
  late = () => new Error(`test timed out after ${limit}ms`),
): Promise<T> {
  let stop = () => {};
  const ended = new Promise<never>((_, reject) => {
    if (Number.isFinite(limit)) stop = after(limit, () => reject(late()));
  });
  try {
    return await Promise.race([fn(), ended]);
  } finally {
    stop();
  }
}
