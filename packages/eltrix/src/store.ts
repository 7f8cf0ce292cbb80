/** State that elements share. */
export { type Autosave, type AutosaveOptions, autosave } from './store/autosave.ts';
export { type History, type HistoryEntry, type HistoryOptions, type HistoryState, history } from './store/history.ts';
export {
  type Store,
  type StoreChange,
  type StoreEvents,
  type StoreOrigin,
  type StoreProblem,
  store,
} from './store/store.ts';
export { followTabs, type TabsOptions } from './store/tabs.ts';
