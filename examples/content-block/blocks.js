// Elements that read no configuration themselves are given theirs here, when they are defined.
for (const script of document.querySelectorAll('main > * > script[type="application/json"]')) {
  const element = script.parentElement;
  customElements.whenDefined(element.localName).then(() => Object.assign(element, JSON.parse(script.textContent)));
}
