import type { Readable } from './computed.ts';
import { check, dirty, listening } from './flags.ts';
import { changed, evaluate, track, unlink } from './graph.ts';
import { enqueuePrompt } from './queue.ts';
import { type Home, type Link, type Reaction, type Source, state } from './state.ts';

/** One reader of one key. */
class Key<K> implements Source {
  version = 0;
  targets: Link | undefined = undefined;
  lastTarget: Link | undefined = undefined;
  run = 0;
  /** The next reader of the same key. */
  twin: Key<K> | undefined = undefined;
  readonly matcher: Matcher<K>;
  readonly key: K;

  constructor(matcher: Matcher<K>, key: K) {
    this.matcher = matcher;
    this.key = key;
  }

  /** A computed that kept this reading has subscribers again. */
  watched(): void {
    this.matcher.remember(this);
  }

  unwatched(): void {
    // Changes go unnoticed from now on: with another version, a computed that keeps this reading validates it again.
    this.version++;
    this.matcher.forget(this);
  }
}

class Matcher<K> implements Reaction {
  flags = listening;
  sources: Link | undefined = undefined;
  tail: Link | undefined = undefined;
  home: Home | undefined = undefined;
  readonly source: Readable<K>;
  readonly keys = new Map<K, Key<K>>();
  current: K | undefined = undefined;

  constructor(source: Readable<K>) {
    this.source = source;
  }

  marked(): undefined {
    enqueuePrompt(this);
  }

  react(): void {
    const before = this.current as K;
    const now = evaluate(this, () => this.source.get());
    if (Object.is(before, now)) return;
    this.current = now;
    this.wake(before);
    this.wake(now);
  }

  wake(key: K): void {
    for (let asked = this.keys.get(key); asked; asked = asked.twin) changed(asked);
  }

  remember(asked: Key<K>): void {
    if (this.keys.size === 0) this.current = evaluate(this, () => this.source.get());
    asked.twin = this.keys.get(asked.key);
    this.keys.set(asked.key, asked);
  }

  forget(asked: Key<K>): void {
    const { key, twin } = asked;
    let first = this.keys.get(key);
    if (first === asked) {
      if (twin) this.keys.set(key, twin);
      else this.keys.delete(key);
    } else {
      while (first && first.twin !== asked) first = first.twin;
      if (first) first.twin = twin;
    }
    asked.twin = undefined;
    if (this.keys.size === 0) unlink(this);
  }

  ask(key: K): boolean {
    // Outside a reaction there is nothing to notify, so the reader depends on the signal itself.
    if (state.active === undefined || !(state.active.flags & listening)) return Object.is(this.source.get(), key);
    const asked = this.keys.get(key) ?? new Key(this, key);
    track(asked);
    return Object.is(this.flags & (dirty | check) ? this.source.peek() : this.current, key);
  }
}

/**
 * Returns a function that compares a key with a signal's value. A change of the signal runs only the readers of the
 * previous key and of the new key, not those of all other keys. Keys are compared with `Object.is`.
 *
 * @example const isSelected = matches(selected); // class=${() => isSelected(row().id) && 'chosen'}
 */
export function matches<K>(source: Readable<K>): (key: K) => boolean {
  const matcher = new Matcher(source);
  return key => matcher.ask(key);
}
