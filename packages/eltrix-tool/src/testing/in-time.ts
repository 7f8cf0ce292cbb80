import { after } from './real-time.ts';

/** @throws Error after a time limit, in milliseconds. */
export async function inTime<T>(
  limit: number,
  fn: () => T | Promise<T>,
  message = `test timed out after ${limit}ms`,
): Promise<T> {
  let stop = () => {};
  const late = new Promise<never>((_, reject) => {
    if (Number.isFinite(limit)) stop = after(limit, () => reject(new Error(message)));
  });
  try {
    return await Promise.race([fn(), late]);
  } finally {
    stop();
  }
}
