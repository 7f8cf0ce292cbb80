/** Tells the page of an error that nobody can catch, as an uncaught exception (HTML §8.1.4.6, reportError). */
export function report(error: unknown): void {
  const tell = globalThis.reportError as ((error: unknown) => void) | undefined;
  if (tell) tell(error);
  else
    queueMicrotask(() => {
      throw error;
    });
}
