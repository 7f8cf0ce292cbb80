/** Keys without a character, as `KeyboardEvent.key` names them, with their code points in WebDriver (§17.4.2). */
export const namedKeys: Readonly<Record<string, string>> = {
  Backspace: '\uE003',
  Tab: '\uE004',
  Enter: '\uE007',
  Shift: '\uE008',
  Control: '\uE009',
  Alt: '\uE00A',
  Escape: '\uE00C',
  Space: ' ',
  PageUp: '\uE00E',
  PageDown: '\uE00F',
  End: '\uE010',
  Home: '\uE011',
  ArrowLeft: '\uE012',
  ArrowUp: '\uE013',
  ArrowRight: '\uE014',
  ArrowDown: '\uE015',
  Insert: '\uE016',
  Delete: '\uE017',
  F1: '\uE031',
  F2: '\uE032',
  F3: '\uE033',
  F4: '\uE034',
  F5: '\uE035',
  F6: '\uE036',
  F7: '\uE037',
  F8: '\uE038',
  F9: '\uE039',
  F10: '\uE03A',
  F11: '\uE03B',
  F12: '\uE03C',
  Meta: '\uE03D',
};

/** What other systems call them. */
const others: Readonly<Record<string, string>> = {
  return: 'Enter',
  esc: 'Escape',
  spacebar: ' ',
  up: 'ArrowUp',
  down: 'ArrowDown',
  left: 'ArrowLeft',
  right: 'ArrowRight',
  ctrl: 'Control',
  del: 'Delete',
  command: 'Meta',
  cmd: 'Meta',
  option: 'Alt',
};

/** The key that another name means, if it is known. */
export function meantKey(name: string): string | undefined {
  const low = name.toLowerCase();
  return others[low] ?? Object.keys(namedKeys).find(key => key.toLowerCase() === low);
}
