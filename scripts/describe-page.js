(async () => {
  const cards = root =>
    [...root.querySelectorAll('*')].flatMap(element => [
      ...(element.localName === 'hive-card' ? [element] : []),
      ...(element.shadowRoot ? cards(element.shadowRoot) : []),
    ]);
  for (let tries = 0; tries < 100 && cards(document).length === 0; tries++)
    await new Promise(resolve => setTimeout(resolve, 20));
  return cards(document).map(card => ({
    name: card.name,
    text: [card.mood, ...Array.from(card.shadowRoot.querySelectorAll('dd'), item => item.textContent)].join(', '),
  }));
})();
