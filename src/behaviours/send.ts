/** Ways to send a request, for `request(address, { send: shared })`. */
import type { Send } from './request.ts';

/** A request on its way, for all who ask the same. */
interface Flight {
  readonly control: AbortController;
  readonly answer: Promise<Response>;
  askers: number;
}

const flights = new Map<string, Flight>();

/**
 * Sends equal requests that are on their way at the same time once; each asker has a copy of the answer. One with a body
 * is sent by itself. It is aborted when nobody waits for it any more.
 */
export const shared: Send = (url, { signal, ...init }) => {
  if (init.body) return fetch(url, { ...init, signal });
  const key = JSON.stringify([url, { ...init, headers: [...new Headers(init.headers)] }]);
  let flight = flights.get(key);
  if (!flight) {
    const control = new AbortController();
    flight = { control, answer: fetch(url, { ...init, signal: control.signal }), askers: 0 };
    flights.set(key, flight);
  }
  const { control, answer } = flight;
  const own = flight;
  own.askers++;
  return new Promise((resolve, reject) => {
    signal.addEventListener('abort', () => {
      reject(signal.reason);
      if (--own.askers) return;
      if (flights.get(key) === own) flights.delete(key);
      control.abort();
    });
    answer.then(answer => resolve(answer.clone()), reject);
  });
};

/**
 * Gives up a request that is not answered, whole, within so many milliseconds.
 * @example request(() => '/slow', { send: within(5000, shared) })
 */
export function within(ms: number, send: Send = fetch): Send {
  return (url, init) => {
    const control = new AbortController();
    const late = setTimeout(() => control.abort(new Error(`${url} gave no answer in ${ms} ms.`)), ms);
    init.signal.addEventListener('abort', () => {
      clearTimeout(late);
      control.abort(init.signal.reason);
    });
    return send(url, { ...init, signal: control.signal });
  };
}
