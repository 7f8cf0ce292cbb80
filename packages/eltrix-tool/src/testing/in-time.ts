import { after } from './real-time.ts';

/** @throws Error after a time limit, in milliseconds. */
export async function inTime(limit: number, fn: () => unknown): Promise<void> {
  let stop = () => {};
  const late = new Promise<never>((_, reject) => {
    if (Number.isFinite(limit)) stop = after(limit, () => reject(new Error(`test timed out after ${limit}ms`)));
  });
  try {
    await Promise.race([fn(), late]);
  } finally {
    stop();
  }
}
