const way = new URLSearchParams(location.search).get('way');

const bytes = async () => {
  const { measureUserAgentSpecificMemory } = performance as Performance & {
    measureUserAgentSpecificMemory(): Promise<{ bytes: number }>;
  };
  for (let i = 0; i < 3; i++) {
    (globalThis as { gc?: () => void }).gc?.();
    await new Promise(resolve => setTimeout(resolve, 30));
  }
  return (await measureUserAgentSpecificMemory.call(performance)).bytes;
};

const html = (count: number) =>
  Array.from(
    { length: count },
    (_, i) => `<bench-card name="Hive ${i}" boxes="${i % 5}" mood="busy"><i slot="badge">b</i>note</bench-card>`,
  ).join('');

async function measure() {
  await ready;
  const host = document.createElement('div');
  document.body.append(host);
  const churn = async (rounds: number) => {
    for (let i = 0; i < rounds; i++) {
      host.innerHTML = html(1000);
      await new Promise(resolve => setTimeout(resolve));
      host.textContent = '';
    }
  };
  await churn(5);
  const empty = await bytes();
  host.innerHTML = html(5000);
  await new Promise(resolve => setTimeout(resolve, 50));
  const each = ((await bytes()) - empty) / 5000;
  host.textContent = '';
  await churn(5);
  const before = await bytes();
  await churn(45);
  return { each, growth: (await bytes()) - before };
}

/** For a heap profiler: loads the cards, and puts 5,000 of them on the page when told to. */
const ready = way === 'hand' ? import('./suites/cards-hand.ts') : import('./suites/cards-eltrix.ts');
const fill = () => {
  document.body.innerHTML = html(5000);
};
Object.assign(globalThis, {
  ready,
  fill,
  measured: new URLSearchParams(location.search).has('manual') ? null : measure(),
});
