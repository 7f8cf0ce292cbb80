/** What is observed only while something depends on it, read where nothing does: in listeners and hooks. */
import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { computed, contract, markup, type Scope, settled, signal } from 'eltrix';
import { clock, debounced, media, watchSize, watchTree } from 'eltrix/behaviours';
import { ask, context, offer } from 'eltrix/context';
import { direction, locale } from 'eltrix/language';
import { stage } from 'eltrix-tool/testing';

const apiary = context<string>('apiary');

class ApiaryPage extends contract('unobserved-page', {}) {
  readonly name = signal('Thistlecombe');

  connected(scope: Scope) {
    scope.use(offer(this, apiary, this.name));
  }

  view() {
    return markup`<unobserved-button></unobserved-button><slot></slot>`;
  }
}

class ApiaryButton extends contract('unobserved-button', {}) {
  readonly apiary = ask(this, apiary);
  readonly upper = computed(() => this.apiary.get()?.toUpperCase());
  readonly isShown = signal(false);

  view() {
    return markup`${() => this.isShown.get() && this.apiary.get()}`;
  }
}

ApiaryPage.define();
ApiaryButton.define();

describe('values that nothing observes', () => {
  it('are those of the provider around', async () => {
    const page = await stage<ApiaryPage>('<unobserved-page></unobserved-page>');
    const button = page.shadowRoot!.querySelector<ApiaryButton>('unobserved-button')!;
    const read = () => [button.apiary.get(), button.apiary.peek(), button.upper.get(), button.upper.peek()];
    const all = (name: string | undefined) => [name, name, name?.toUpperCase(), name?.toUpperCase()];
    assert.deepEqual(read(), all('Thistlecombe'));
    page.name.set('Old Wall');
    assert.deepEqual(read(), all('Old Wall'));
    // Observed, and not observed again.
    button.isShown.set(true);
    await settled();
    page.name.set('Rosemary');
    await settled();
    assert.deepEqual(read(), all('Rosemary'));
    button.isShown.set(false);
    await settled();
    page.name.set('Bramble');
    assert.deepEqual(read(), all('Bramble'));
    button.remove();
    assert.deepEqual(read(), all(undefined));
    page.append(button);
    assert.deepEqual(read(), all('Bramble'));
  });

  it('are asked of the page', async t => {
    t.mock.timers.enable({ apis: ['Date'], now: 1000 });
    const now = clock();
    const late = computed(() => now.get() > 1500);
    assert.deepEqual([now.get(), late.get()], [1000, false]);
    t.mock.timers.setTime(2000);
    assert.deepEqual([now.get(), now.peek(), late.get()], [2000, 2000, true]);

    const wide = media('(min-width: 1px)');
    assert.equal(wide.get(), true);

    const list = await stage<HTMLUListElement>('<ul><li></li></ul>');
    list.style.cssText = 'margin: 0; padding: 7px; border: 3px solid; width: 200px';
    const [size, border] = [watchSize(list), watchSize(list, { box: 'border' })];
    const isNarrow = computed(() => size.get().width < 150);
    assert.deepEqual([size.get().width, border.peek().width, isNarrow.get()], [200, 220, false]);
    list.style.width = '100px';
    assert.deepEqual([size.get().width, border.peek().width, isNarrow.get()], [100, 120, true]);

    const tree = watchTree(list);
    const count = computed(() => tree.get().children.length);
    assert.equal(count.get(), 1);
    list.append(document.createElement('li'));
    assert.deepEqual([tree.get().children.length, count.get()], [2, 2]);

    const language = computed(() => `${locale(list)} ${direction(list)}`);
    list.lang = 'de';
    assert.equal(language.get(), 'de ltr');
    list.lang = 'he';
    list.dir = 'rtl';
    assert.equal(language.get(), 'he rtl');

    const typed = signal('a');
    const calm = debounced(() => typed.get(), 1000);
    assert.equal(calm.get(), 'a');
    typed.set('b');
    assert.equal(calm.peek(), 'b');
  });
});
