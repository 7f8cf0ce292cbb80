Array.from(document.querySelectorAll('hive-card'), card => ({
  name: card.name,
  text: [card.mood, ...Array.from(card.shadowRoot.querySelectorAll('dd'), item => item.textContent)].join(', '),
}));
