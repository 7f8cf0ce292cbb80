/** Ways to send a request, for `request(address, { send: shared })`. */
import type { Send } from './request.ts';

/** A pending request, shared by equal ones. */
interface Flight {
  readonly control: AbortController;
  readonly answer: Promise<Response>;
  /** Callers that have not aborted. */
  askers: number;
  /** Those of them that have no answer yet. */
  waiting: number;
}

const flights = new Map<string, Flight>();

/**
 * Sends equal concurrent requests once; each caller gets the answer. Requests with a body are not shared.
 * The request is aborted when no caller waits for it.
 * @example weather = request(() => '/weather', { send: shared });
 */
export const shared: Send = (url, { signal, ...init }) => {
  if (init.body) return fetch(url, { ...init, signal });
  const key = JSON.stringify([url, { ...init, headers: [...new Headers(init.headers)] }]);
  const land = () => void flights.delete(key);
  let flight = flights.get(key);
  if (!flight) {
    const control = new AbortController();
    flight = { control, answer: fetch(url, { ...init, signal: control.signal }), askers: 0, waiting: 0 };
    flights.set(key, flight);
    flight.answer.then(land, land);
  }
  const own = flight;
  own.askers++;
  own.waiting++;
  let isServed = false;
  return new Promise((resolve, reject) => {
    signal.addEventListener('abort', () => {
      reject(signal.reason);
      if (!isServed) own.waiting--;
      if (--own.askers > 0) return;
      if (flights.get(key) === own) land();
      own.control.abort();
    });
    own.answer.then(answer => {
      if (signal.aborted) return;
      isServed = true;
      // The last one gets the answer itself: if an answer is copied and never read itself, the engine keeps all of it in memory.
      resolve(--own.waiting > 0 ? answer.clone() : answer);
    }, reject);
  });
};

/**
 * Aborts a request whose answer is not complete within `ms` milliseconds.
 * @example request(() => '/slow', { send: within(5000, shared) })
 */
export function within(ms: number, send: Send = fetch): Send {
  return (url, init) => {
    const control = new AbortController();
    init.signal.addEventListener('abort', () => control.abort(init.signal.reason));
    // Unlike a timer it need not be cleared.
    AbortSignal.timeout(ms).addEventListener('abort', () =>
      control.abort(new Error(`${url} gave no answer in ${ms} ms.`)),
    );
    return send(url, { ...init, signal: control.signal });
  };
}
