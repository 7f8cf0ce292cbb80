import assert from 'node:assert/strict';
import { describe, it } from 'node:test';
import { choice, contract, data, each, event, flag, integer, markup, settled, slot, stylesheet, text } from 'eltrix';
import { html } from './support.ts';

interface Frame {
  readonly id: number;
  readonly honey: number;
}

class HiveCard extends contract('hive-card', {
  attributes: {
    name: text(),
    boxes: integer({ default: 1 }),
    mood: choice(['calm', 'busy'], { missing: 'calm', invalid: 'calm' }),
    compact: flag(),
  },
  properties: { frames: data<readonly Frame[]>(() => []) },
  events: { 'hive-open': event<{ name: string }>() },
  slots: { '': slot('Notes.'), badge: slot('A badge.') },
}) {
  static styleSheets = [stylesheet`:host { display: block; } b { color: rgb(1, 2, 3); }`];

  view() {
    return markup`
      <h3>${() => this.name}</h3>
      <slot name="badge"><b class=${() => this.mood}>${() => this.mood}</b></slot>
      <ul>${each(
        () => this.frames,
        frame => frame.id,
        frame => markup`<li>${() => frame().honey} kg</li>`,
      )}</ul>
      <button type="button" onclick=${this.open}>Open</button>
      <slot></slot>`;
  }

  open() {
    this.emit('hive-open', { name: this.name });
  }
}

const inside = (element: Element, selector: string) => element.shadowRoot!.querySelector<HTMLElement>(selector)!;

function put<E extends Element = HiveCard>(given: string): E {
  const host = document.createElement('div');
  const parsed = new DOMParser().parseFromString(html(given), 'text/html');
  host.append(document.importNode(parsed.body.firstElementChild!, true));
  document.body.append(host);
  return host.firstElementChild as E;
}

// Made before the definition, for the test of the upgrade.
const early = document.createElement('hive-card') as HiveCard;
early.setAttribute('name', 'Rosemary');
early.frames = [{ id: 1, honey: 3 }];
early.mood = 'busy';
HiveCard.define();

describe('an element', () => {
  it('keeps properties that were set before the upgrade', () => {
    document.body.append(early);
    assert.ok(early instanceof HiveCard);
    assert.deepEqual(Object.keys(early), []);
    assert.equal(early.getAttribute('mood'), 'busy');
    assert.equal(inside(early, 'h3').textContent, 'Rosemary');
    assert.equal(inside(early, 'li').textContent, '3 kg');
  });

  it('is created by the parser, createElement and new', () => {
    for (const card of [
      put('<hive-card name="Bramble" boxes="3"></hive-card>'),
      document.createElement('hive-card'),
      new HiveCard(),
    ]) {
      assert.ok(card instanceof HiveCard);
      if (!card.isConnected) {
        assert.equal(card.attributes.length, 0);
        assert.equal(card.childNodes.length, 0);
        card.name = 'Bramble';
        document.body.append(card);
      }
      assert.equal(inside(card, 'h3').textContent, 'Bramble');
    }
  });

  it('shows an attribute in the view', async () => {
    const card = put('<hive-card name="Old Tin"></hive-card>');
    card.setAttribute('name', 'New Tin');
    card.setAttribute('mood', 'BUSY');
    await settled();
    assert.equal(inside(card, 'h3').textContent, 'New Tin');
    assert.equal(inside(card, 'b').className, 'busy');
  });

  it('reflects a property at once', () => {
    const card = put('<hive-card></hive-card>');
    card.boxes = 4;
    card.compact = true;
    assert.equal(card.outerHTML, '<hive-card boxes="4" compact=""></hive-card>');
    card.compact = false;
    assert.equal(card.hasAttribute('compact'), false);
  });

  it('sends its event with the detail', () => {
    const card = put('<hive-card name="Bramble"></hive-card>');
    const seen: CustomEvent<{ name: string }>[] = [];
    card.parentElement!.addEventListener('hive-open', heard => void seen.push(heard as CustomEvent<{ name: string }>));
    inside(card, 'button').click();
    assert.equal(seen.length, 1);
    assert.deepEqual(seen[0]!.detail, { name: 'Bramble' });
    assert.equal(seen[0]!.bubbles && seen[0]!.composed, true);
  });

  it('shows slotted and fallback content', () => {
    const plain = put('<hive-card mood="busy"><p>A note</p></hive-card>');
    const slots = [...plain.shadowRoot!.querySelectorAll('slot')];
    assert.equal(slots[0]!.assignedNodes().length, 0);
    assert.equal(slots[0]!.textContent, 'busy');
    assert.equal(slots[1]!.assignedElements()[0]!.textContent, 'A note');
    const badged = put('<hive-card><i slot="badge">best</i></hive-card>');
    assert.equal(badged.shadowRoot!.querySelector('slot')!.assignedElements()[0]!.textContent, 'best');
  });

  it('isolates styles', () => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync('h3 { color: rgb(9, 9, 9); }');
    document.adoptedStyleSheets.push(sheet);
    const card = put('<hive-card><b>outside</b></hive-card>');
    const colour = (element: Element) => getComputedStyle(element).color;
    assert.notEqual(colour(inside(card, 'h3')), 'rgb(9, 9, 9)');
    assert.equal(colour(inside(card, 'b')), 'rgb(1, 2, 3)');
    assert.notEqual(colour(card.querySelector('b')!), 'rgb(1, 2, 3)');
    assert.equal(getComputedStyle(card).display, 'block');
    document.adoptedStyleSheets.pop();
  });

  it('shares one style sheet among all instances', () => {
    const [one, other] = [put('<hive-card></hive-card>'), put('<hive-card></hive-card>')];
    assert.equal(one.shadowRoot!.adoptedStyleSheets[0], other.shadowRoot!.adoptedStyleSheets[0]);
  });

  it('keeps a row for its key', async () => {
    const card = put('<hive-card></hive-card>');
    card.frames = [
      { id: 1, honey: 1 },
      { id: 2, honey: 2 },
    ];
    await settled();
    const [first, second] = card.shadowRoot!.querySelectorAll('li');
    card.frames = [
      { id: 2, honey: 5 },
      { id: 3, honey: 3 },
      { id: 1, honey: 1 },
    ];
    await settled();
    const rows = [...card.shadowRoot!.querySelectorAll('li')];
    assert.deepEqual(
      rows.map(row => row.textContent),
      ['5 kg', '3 kg', '1 kg'],
    );
    assert.equal(rows[0], second);
    assert.equal(rows[2], first);
  });
});
