import type { Member } from '../signals/state.ts';
import { asText } from './as-text.ts';
import { DeepHole, Hole, keepHole } from './hole.ts';
import { type Binder, type Binding, markAll, type Owner } from './template.ts';

/** A text made of fixed pieces and holes, shown as a whole: an attribute, or the text of `<textarea>`. */
export class Pieces implements Binding {
  readonly holes: PieceHole[] = [];
  readonly texts: unknown[] = [];
  #whole = false;

  constructor(
    readonly statics: readonly string[],
    readonly commit: (texts: readonly unknown[]) => void,
  ) {}

  begin(values: readonly unknown[], at: number, owner: Owner): this {
    for (let i = 0; i < this.statics.length - 1; i++) {
      const hole = new PieceHole(owner, this, i);
      if (__DEV__ && hole.place) hole.place = { ...hole.place, hole: hole.place.hole + i };
      this.holes.push(hole);
    }
    this.update(values, at);
    return this;
  }

  /** All holes first, then one showing. */
  update(values: readonly unknown[], at: number): void {
    this.#whole = false;
    for (const hole of this.holes) hole.set(values[at + hole.index]);
    this.#whole = true;
    const [text] = this.texts;
    this.holes[0]!.bring(typeof text === 'function' ? String(text) : text);
  }

  changed(index: number, value: unknown): void {
    this.texts[index] = value;
    if (this.#whole) this.commit(this.texts);
  }

  mark(stale: number, due: Member[]): void {
    markAll(this.holes, stale, due);
  }

  dispose(): void {
    for (const hole of this.holes) hole.dispose();
  }
}

class PieceHole extends DeepHole {
  constructor(
    owner: Owner,
    readonly pieces: Pieces,
    readonly index: number,
  ) {
    super(owner);
  }

  apply(value: unknown): void {
    this.pieces.changed(this.index, value);
  }
}

/** A hole between nodes of which the compiler knows that no more than text comes. */
class TextHole extends Hole {
  text = '';

  constructor(
    owner: Owner,
    readonly node: Text,
  ) {
    super(owner);
  }

  apply(value: unknown): void {
    const text = asText(value);
    if (text !== this.text) this.node.data = this.text = text;
  }
}

export const bindText: Binder = (node, values, at, owner, renewable) =>
  keepHole(new TextHole(owner, node as Text), values[at], renewable);

export function join(
  statics: readonly string[],
  texts: readonly unknown[],
  print: (value: unknown) => string = asText,
): string {
  let text = statics[0]!;
  for (let i = 0; i < texts.length; i++) text += print(texts[i]) + statics[i + 1]!;
  return text;
}

/** The text of `<textarea>` or `<title>`. */
export function textBinder(statics: readonly string[]): Binder {
  return (node, values, at, owner) =>
    new Pieces(statics, texts => {
      const text = join(statics, texts);
      if (node.textContent !== text) node.textContent = text;
    }).begin(values, at, owner);
}

export function bindStaticStyle(text: string): Binder {
  return node => {
    (node as HTMLElement).style.cssText = text;
    return undefined;
  };
}
