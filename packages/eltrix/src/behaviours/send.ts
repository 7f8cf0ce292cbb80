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
 * is sent separately. It is aborted when nothing waits for it any more.
 * @example weather = request(() => '/weather', { send: shared });
 */
export const shared: Send = (url, { signal, ...init }) => {
  if (init.body) return fetch(url, { ...init, signal });
  const key = JSON.stringify([url, { ...init, headers: [...new Headers(init.headers)] }]);
  const land = () => void flights.delete(key);
  let flight = flights.get(key);
  if (!flight) {
    const control = new AbortController();
    flight = { control, answer: fetch(url, { ...init, signal: control.signal }), askers: 0 };
    flights.set(key, flight);
    flight.answer.then(land, land);
  }
  const own = flight;
  own.askers++;
  return new Promise((resolve, reject) => {
    signal.addEventListener('abort', () => {
      reject(signal.reason);
      if (--own.askers > 0) return;
      if (flights.get(key) === own) land();
      own.control.abort();
    });
    own.answer.then(answer => resolve(answer.clone()), reject);
  });
};

/**
 * Gives up a request that is not answered, whole, within so many milliseconds.
 * @example request(() => '/slow', { send: within(5000, shared) })
 */
export function within(ms: number, send: Send = fetch): Send {
  return (url, init) => {
    const control = new AbortController();
    init.signal.addEventListener('abort', () => control.abort(init.signal.reason));
    // Unlike a timer, it need not be cleared.
    AbortSignal.timeout(ms).addEventListener('abort', () =>
      control.abort(new Error(`${url} gave no answer in ${ms} ms.`)),
    );
    return send(url, { ...init, signal: control.signal });
  };
}
