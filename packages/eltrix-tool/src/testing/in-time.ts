/** Saved before a test can replace it. */
const realTimeout = globalThis.setTimeout.bind(globalThis);

/** @throws Error after a time limit, in milliseconds. */
export async function inTime(limit: number, fn: () => unknown): Promise<void> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, reject) => {
    if (Number.isFinite(limit)) timer = realTimeout(() => reject(new Error(`test timed out after ${limit}ms`)), limit);
  });
  try {
    await Promise.race([fn(), late]);
  } finally {
    clearTimeout(timer);
  }
}
