/** Text in IndexedDB: a database with one object store. Loaded only if it is used. */
import type { Keeper } from './autosave.ts';

const name = 'eltrix';

function settled<T>(request: IDBRequest<T>): Promise<T> {
  return new Promise((resolve, reject) => {
    request.addEventListener('success', () => resolve(request.result));
    request.addEventListener('error', () => reject(request.error));
  });
}

function open(): Promise<IDBDatabase> {
  const request = indexedDB.open(name, 1);
  request.addEventListener('upgradeneeded', () => void request.result.createObjectStore(name));
  return settled(request);
}

export function indexedKeeper(): Keeper {
  let database: Promise<IDBDatabase> | undefined;
  const area = async (mode: IDBTransactionMode) => (await (database ??= open())).transaction(name, mode);
  return {
    async read(key) {
      return ((await settled((await area('readonly')).objectStore(name).get(key))) as string | undefined) ?? null;
    },
    async write(key, text) {
      const transaction = await area('readwrite');
      transaction.objectStore(name).put(text, key);
      await new Promise<void>((resolve, reject) => {
        transaction.addEventListener('complete', () => resolve());
        transaction.addEventListener('abort', () => reject(transaction.error ?? new Error('It was aborted.')));
      });
    },
  };
}
