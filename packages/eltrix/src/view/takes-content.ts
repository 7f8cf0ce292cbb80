/** Whether elements of this name may move or replace their content: custom elements, and slots without a shadow root. */
export const takesContent = (name: string, isCustom: boolean): boolean =>
  isCustom || name === 'slot' || name.includes('-');
