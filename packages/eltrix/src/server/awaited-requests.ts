/** Awaits the requests of elements while they are rendered. */
import type { RequestAnswer, Requests } from '../signals/state.ts';

export class AwaitedRequests {
  readonly #answers = new Map<string, RequestAnswer>();
  /** The answers for each element, by its driver. */
  #used = new Map<object, Record<string, RequestAnswer>>();
  /** What failed is not awaited again: the next rendering sends it as well. */
  readonly #failed = new Set<string>();
  #underWay: Promise<void>[] = [];
  /** Whether time is left for requests. */
  isOpen = true;

  /** Answers the requests of an element. */
  of(element: object): Requests {
    return {
      find: address => {
        const answer = this.#answers.get(address);
        if (answer) {
          const used = this.#used.get(element) ?? {};
          used[address] = answer;
          this.#used.set(element, used);
        }
        return answer;
      },
      sent: (address, answered) => {
        const done = answered.then(
          answer => {
            if (answer) this.#answers.set(address, { status: answer.status, value: answer.value });
          },
          () => void this.#failed.add(address),
        );
        if (!this.#failed.has(address)) this.#underWay.push(done);
      },
    };
  }

  usedBy(element: object): Readonly<Record<string, RequestAnswer>> | undefined {
    return this.#used.get(element);
  }

  /** Awaits pending requests. @returns false if there is none, or the time is up. */
  async wait(until: number): Promise<boolean> {
    // Requests start in a microtask.
    await new Promise(resolve => setTimeout(resolve));
    if (this.#underWay.length === 0) return false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const tooLate = new Promise<false>(resolve => {
      timer = setTimeout(() => resolve(false), Math.max(0, until - performance.now()));
    });
    const inTime = await Promise.race([Promise.all(this.#underWay).then(() => true), tooLate]);
    clearTimeout(timer);
    this.#underWay = [];
    this.#used = new Map();
    if (!inTime) this.isOpen = false;
    return true;
  }
}
