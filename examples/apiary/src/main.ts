import './page.css';
import { HiveCard } from './elements/hive-card.ts';
import { hives } from './hives.ts';

const list = document.querySelector('#hives')!;
const log = document.querySelector('#log')!;

for (const { name, boxes, mood, note, frames } of hives) {
  const card = new HiveCard();
  Object.assign(card, { name, boxes, mood, frames });
  const text = document.createElement('p');
  text.textContent = note;
  card.append(text);
  list.append(card);
}

const first = document.querySelector('hive-card')!;
first.insertAdjacentHTML('afterbegin', '<strong slot="badge" class="badge">prize hive</strong>');

list.addEventListener('hive-open', event => {
  const { detail } = event as CustomEvent<{ name: string }>;
  const line = document.createElement('li');
  line.textContent = `hive-open: ${detail.name} was opened`;
  log.prepend(line);
});
