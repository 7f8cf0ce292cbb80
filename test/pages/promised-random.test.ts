/** Random promises: what shows is the state of the newest one, beside a model. */
import assert from 'node:assert/strict';
import { it } from 'node:test';
import { contract, markup, settled, signal } from 'eltrix';
import { handleErrors, promised } from 'eltrix/views';
import { stage } from 'eltrix-tool/testing';
import { random } from '../support/random.ts';

/** A promise, and what is known of it. */
interface Given {
  readonly name: string;
  readonly value: PromiseLike<string> | string;
  state: 'pending' | 'fulfilled' | 'rejected';
  end?(failed: boolean): void;
}

class PromisedCard extends contract('promised-card', {}) {
  readonly given = signal<Given>({ name: 'none', value: 'none', state: 'fulfilled' });
  readonly marks = signal(0);

  view() {
    const source = () => this.given.get().value;
    return markup`<p>${promised(source, {
      pending: last => `pending after ${last}`,
      fulfilled: value => markup`<b>${value} ${() => this.marks.get()}</b>`,
      rejected: error => `failed with ${error}`,
    })}</p><p>${promised(source, { fulfilled: value => value })}</p>`;
  }
}
PromisedCard.define();

/** Calls back at once. */
const soon = (value: string): PromiseLike<string> => ({
  // biome-ignore lint/suspicious/noThenProperty: a thenable.
  then: (done: ((value: string) => unknown) | null | undefined) => done?.(value) as never,
});

const programs = 30;
const steps = 14;

it(`${programs} random programs of ${steps} changes`, async () => {
  // Rejections are strings.
  const stop = handleErrors(({ error }) => typeof error === 'string');
  for (let program = 0; program < programs; program++) {
    const next = random(program + 1);
    const card = await stage<PromisedCard>('<promised-card></promised-card>');
    const parent = card.parentNode!;
    const all: Given[] = [card.given.peek()];
    const done: string[] = [];
    /** The value of the last promise that was fulfilled while it was the newest. */
    let last = 'none';
    /** The newest promise when the card was last shown: it is followed while the card is away. */
    let followed = 'none';
    for (let step = 0; step < steps; step++) {
      const what = next(7);
      const name = `v${all.length}`;
      if (what === 0) all.push({ name, value: name, state: 'fulfilled' });
      else if (what === 1) all.push({ name, value: soon(name), state: 'fulfilled' });
      else if (what < 4) {
        const one: Given = { name, value: '', state: 'pending' };
        const value = new Promise<string>((resolve, reject) => {
          one.end = failed => {
            one.state = failed ? 'rejected' : 'fulfilled';
            if (failed) reject(name);
            else resolve(name);
          };
        });
        value.catch(() => {});
        all.push(Object.assign(one, { value }));
      } else if (what === 4) {
        const one = all[next(all.length)]!;
        if (one.state !== 'pending') continue;
        const failed = next(2) === 1;
        done.push(`${one.name} ${failed ? 'fails' : 'ends'}`);
        one.end!(failed);
        if (one.name === followed && !failed) last = followed;
      } else if (what === 5) {
        done.push('marks');
        card.marks.set(step);
      } else {
        done.push(card.isConnected ? 'away' : 'back');
        if (card.isConnected) card.remove();
        else parent.append(card);
      }
      if (what < 4 || (what === 4 && next(4) === 0)) {
        const one = what < 4 ? all.at(-1)! : all[next(all.length)]!;
        done.push(`${one.name} (${one.state})`);
        card.given.set(one);
      }
      await settled();
      await new Promise(resolve => setTimeout(resolve));
      if (!card.isConnected) continue;
      const { name: newest, state } = card.given.peek();
      followed = newest;
      if (state === 'fulfilled') last = newest;
      const journey = `program ${program}: ${done.join('; ')}`;
      const [shown, bare] = [...card.shadowRoot!.querySelectorAll('p')].map(({ textContent }) => textContent);
      const expected = {
        pending: `pending after ${last}`,
        fulfilled: `${newest} ${card.marks.peek()}`,
        rejected: `failed with ${newest}`,
      }[state];
      assert.deepEqual({ journey, shown }, { journey, shown: expected });
      // A failed expression keeps what it showed.
      if (state !== 'rejected') assert.deepEqual({ journey, bare }, { journey, bare: last });
    }
    card.remove();
  }
  stop();
});
