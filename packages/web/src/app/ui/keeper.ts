/** Something that this browser keeps for us, by our own names. It may be closed to us, full, or hold anything. */
export interface Keeper {
  /** @returns null for nothing, and for what is no JSON */
  read(key: string): unknown;
  /** What cannot be kept is still shown as chosen, until the page is left. */
  write(key: string, value: unknown): void;
  drop(key: string): void;
  /** All that begin so. */
  keys(prefix: string): string[];
}

const ours = 'convite.';

/** @param storage asked for each time: where it is closed, even asking fails */
function keeper(storage: () => Storage): Keeper {
  const tried = <T>(act: () => T, otherwise: T): T => {
    try {
      return act();
    } catch {
      return otherwise;
    }
  };
  return {
    read: (key) => tried((): unknown => JSON.parse(storage().getItem(ours + key) ?? 'null'), null),
    write: (key, value) => tried(() => storage().setItem(ours + key, JSON.stringify(value)), undefined),
    drop: (key) => tried(() => storage().removeItem(ours + key), undefined),
    keys: (prefix) =>
      tried(
        () =>
          Object.keys(storage())
            .filter((key) => key.startsWith(ours + prefix))
            .map((key) => key.slice(ours.length)),
        [],
      ),
  };
}

/** Until somebody clears it. */
export const keptForGood = keeper(() => localStorage);
/** As long as the tab is open. */
export const keptForTab = keeper(() => sessionStorage);
