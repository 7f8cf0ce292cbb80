/**
 * Attributes and properties that meet while an element is upgraded: callbacks that the platform queued before the
 * constructor took over a property tell of older times.
 */
import type { Ability } from './abilities.ts';
import { callHook } from './hooks.ts';
import type { Member } from './plan.ts';

interface Early {
  /** Whether the platform has queued a callback for the attribute. */
  readonly queued: boolean;
  readonly reflects: boolean;
}

/** For classes that have `attributeChanged`, or properties that do not reflect. */
export const attributeAbility: Ability = {
  rank: 5,
  core: Base =>
    class extends Base {
      /** By attribute name, those for whom no callback has come yet. */
      #early: Map<string, Early> | undefined;

      override takeOver(member: Member): boolean {
        const { attribute, reflects } = member;
        const has = () => attribute !== undefined && this.host.hasAttributeNS(null, attribute);
        const queued = has();
        if (!super.takeOver(member)) return false;
        if (attribute !== undefined && (queued || (reflects && has()))) {
          if (!this.#early) {
            this.#early = new Map();
            queueMicrotask(() => this.#deliver());
          }
          this.#early.set(attribute, { queued, reflects });
        }
        return true;
      }

      override attributeChanged(member: Member, before: string | null, after: string | null): void {
        const name = member.attribute!;
        const early = this.#early?.get(name);
        if (early) this.#early!.delete(name);
        else super.attributeChanged(member, before, after);
        callHook(
          this,
          'attributeChanged',
          name,
          before,
          early?.reflects ? this.host.getAttributeNS(null, name) : after,
        );
      }

      override connect(): void {
        this.#deliver();
        // What was called may have moved the element.
        if (this.host.isConnected && !this.shown) super.connect();
      }

      /** Attributes that were written in the constructor have no callback of their own. */
      #deliver(): void {
        for (const [name, { queued }] of this.#early ?? []) {
          if (queued) continue;
          this.#early!.delete(name);
          callHook(this, 'attributeChanged', name, null, this.host.getAttributeNS(null, name));
        }
      }
    },
};
