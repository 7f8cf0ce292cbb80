/** Random programs of requests: the state is that of the last URL, also if answers arrive late or never. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { effect, settled, signal } from 'eltrix';
import { type RequestState, request, retry } from 'eltrix/behaviours';
import { random } from '../support/random.ts';

/** A request that has been sent. */
interface Sent {
  readonly url: string;
  readonly signal: AbortSignal;
  answer(status: number, body: string): void;
  fail(): void;
  isOver: boolean;
}

const programs = 60;
const steps = 18;
/** After timers without a delay. */
const turn = () => new Promise(resolve => setTimeout(resolve));
const { port1, port2 } = new MessageChannel();
/** A task, sooner than a timer: those wait for 4 ms (HTML §8.6). */
const task = () =>
  new Promise<void>(resolve => {
    port1.onmessage = () => resolve();
    port2.postMessage(null);
  });

/** What the documentation says, without the machinery. */
class Model {
  url: string | null = null;
  isWatched = false;
  value: string | undefined;
  from: string | undefined;
  error: string | undefined;
  status = 0;
  /** The request whose answer counts. */
  current: Sent | undefined;
  tries = 0;

  get isPending(): boolean {
    return this.current !== undefined;
  }
}

it(`${programs} random programs of ${steps} steps`, async () => {
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    const again = next(2) === 0 ? undefined : retry(1, { pause: 0 });
    const done: string[] = [];
    const sent: Sent[] = [];
    const url = signal<string | null>(null);
    const asked = request<string>(() => url.get(), {
      as: answer => answer.text(),
      again,
      send: (given, { signal }) =>
        new Promise<Response>((resolve, reject) => {
          const own: Sent = {
            url: String(given),
            signal,
            isOver: false,
            answer(status, body) {
              own.isOver = true;
              resolve(new Response(body, { status }));
            },
            fail() {
              own.isOver = true;
              reject(new TypeError('no network'));
            },
          };
          signal.addEventListener('abort', () => reject(signal.reason as Error));
          sent.push(own);
        }),
    });
    const model = new Model();
    let stop: (() => void) | undefined;
    const start = () => {
      stop = effect(() => void asked.get());
    };
    /** What a model expects to be sent: the last request, if the URL is wanted. */
    const follow = () => {
      model.current = sent.at(-1);
    };
    for (let step = 0; step < steps; step++) {
      const before = sent.length;
      const what = next(8);
      if (what === 0) {
        done.push(stop ? 'leave' : 'watch');
        if (stop) {
          stop();
          stop = undefined;
          model.isWatched = false;
          model.current = undefined;
        } else {
          start();
          model.isWatched = true;
        }
        await settled();
        await turn();
        if (model.isWatched && model.url !== null) {
          assert.equal(sent.length, before + 1, `program ${program}: ${done.join('; ')}: one request`);
          follow();
        } else assert.equal(sent.length, before, `program ${program}: ${done.join('; ')}: none`);
      } else if (what < 3) {
        const to = [null, '/a', '/b'][next(3)]!;
        done.push(`url ${to}`);
        const isNew = to !== model.url;
        url.set(to);
        model.url = to;
        await settled();
        await turn();
        if (model.isWatched && isNew) {
          assert.equal(sent.length, before + (to === null ? 0 : 1), `program ${program}: ${done.join('; ')}`);
          if (to === null) model.current = undefined;
          else follow();
        } else assert.equal(sent.length, before, `program ${program}: ${done.join('; ')}: nothing new`);
      } else if (what === 3) {
        done.push('again');
        asked.again();
        await turn();
        if (model.isWatched && model.url !== null) {
          assert.equal(sent.length, before + 1, `program ${program}: ${done.join('; ')}`);
          follow();
        } else assert.equal(sent.length, before, `program ${program}: ${done.join('; ')}: none`);
      } else {
        // An answer to any request, the present one or one from before.
        const open = sent.filter(({ isOver }) => !isOver);
        const one = open[next(open.length || 1)];
        if (!one) continue;
        const isCurrent = one === model.current;
        const body = `${one.url} ${step}`;
        if (what < 6) {
          done.push(`answer ${one.url}${isCurrent ? '' : ', late'}`);
          one.answer(200, body);
          if (isCurrent) Object.assign(model, { value: body, from: one.url, error: undefined, status: 200 });
        } else if (what === 6) {
          done.push(`status 500 of ${one.url}${isCurrent ? '' : ', late'}`);
          one.answer(500, body);
          if (isCurrent) Object.assign(model, { error: `${one.url} answered with status 500.`, status: 500 });
        } else {
          done.push(`failure of ${one.url}${isCurrent ? '' : ', late'}`);
          one.fail();
          if (isCurrent) model.error = 'no network';
        }
        if (isCurrent) model.current = undefined;
        const isRead = () => !isCurrent || sent.length > before || !(asked.peek() as RequestState<string>).isPending;
        // An engine reads the body of an answer when it has time.
        await turn();
        for (let turns = 0; turns < 4 || (turns < 5000 && !isRead()); turns++) await task();
        // A failed one is repeated once.
        if (isCurrent && what >= 6 && again) {
          model.tries++;
          if (model.tries === 1) {
            assert.equal(sent.length, before + 1, `program ${program}: ${done.join('; ')}: repeated`);
            follow();
          } else assert.equal(sent.length, before, `program ${program}: ${done.join('; ')}: not repeated`);
        } else assert.equal(sent.length, before, `program ${program}: ${done.join('; ')}: none`);
        if (isCurrent && what < 6) model.tries = 0;
      }
      if (sent.length > before && what < 4) model.tries = 0;
      const { value, from, isPending, error, status } = asked.peek() as RequestState<string>;
      assert.deepEqual(
        { value, from, isPending, error: error?.message, status },
        { value: model.value, from: model.from, isPending: model.isPending, error: model.error, status: model.status },
        `program ${program}: ${done.join('; ')}`,
      );
      // Nothing that no longer counts stays on its way.
      for (const one of sent)
        if (!one.isOver && one !== model.current)
          assert.ok(one.signal.aborted, `program ${program}: ${done.join('; ')}: ${one.url} goes on`);
    }
    stop?.();
    await settled();
  }
});
