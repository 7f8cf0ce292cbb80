import type { Again } from './request.ts';

export interface RetryOptions {
  /** The first pause, in milliseconds; 500 unless given. Each further one is twice as long. */
  readonly pause?: number;
  /** Asks again so many milliseconds after an answer, or after the last try. */
  readonly every?: number;
}

/**
 * Tries a request that failed again, so many times.
 * @example request(() => '/weather', { again: retry(3, { every: 60_000 }) })
 */
export function retry(times: number, { pause = 500, every }: RetryOptions = {}): Again {
  return (error, tries) => {
    // A request after the last try counts from the beginning.
    const nth = tries % (times + 1);
    return error && nth < times ? pause * 2 ** nth : every;
  };
}
