/** Cards in one of the two ways, made and dropped when told to. */
const way = new URLSearchParams(location.search).get('way');
const ready = way === 'hand' ? import('./suites/cards-hand.ts') : import('./suites/cards-plain.ts');

const host = document.createElement('div');
document.body.append(host);

const shown = () => new Promise(resolve => requestAnimationFrame(() => setTimeout(resolve)));

async function fill(count: number): Promise<void> {
  host.innerHTML = Array.from(
    { length: count },
    (_, i) => `<bench-card name="Hive ${i}" boxes="${i % 5}" mood="busy"><i slot="badge">b</i>note</bench-card>`,
  ).join('');
  await shown();
}

async function churn(rounds: number): Promise<void> {
  for (let i = 0; i < rounds; i++) {
    await fill(1000);
    host.textContent = '';
  }
  await shown();
}

Object.assign(globalThis, { ready, fill, churn });
