import type { Again } from './request.ts';

export interface RetryOptions {
  /** The first delay, in milliseconds; 500 unless given. Each further delay is twice as long. */
  readonly pause?: number | undefined;
  /** The interval after an answer, or after the last try, in milliseconds. */
  readonly every?: number | undefined;
}

/**
 * Repeats a failed request, at most `times` times.
 * @example request(() => '/weather', { again: retry(3, { every: 60_000 }) })
 */
export function retry(times: number, { pause = 500, every }: RetryOptions = {}): Again {
  return (error, tries) => {
    // A request after the last try starts counting again.
    const nth = tries % (times + 1);
    return error && nth < times ? pause * 2 ** nth : every;
  };
}
