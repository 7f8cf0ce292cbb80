document.addEventListener('hive-open', ({ detail }) => {
  document.querySelector('#log').textContent = `${detail.name} was opened.`;
});
