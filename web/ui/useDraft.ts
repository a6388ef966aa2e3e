import { useEffect, useRef, useState } from 'react';

/**
 * State that outlives a reload: nothing typed is lost. Kept on this device under `key` until cleared.
 * @returns the value, its setter, and `clear`, to be called once it is safely in the book.
 */
export function useDraft<T>(key: string, initial: T): [T, (next: T | ((old: T) => T)) => void, () => void] {
  const store = `diurna.draft.${key}`;
  const [value, setValue] = useState<T>(() => read(store, initial));
  const cleared = useRef(false);
  useEffect(() => {
    if (cleared.current) {
      cleared.current = false;
      localStorage.removeItem(store);
    } else if (value !== initial) keep(store, value);
    // `initial` is only the starting value.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [store, value]);
  const clear = () => {
    cleared.current = true;
    localStorage.removeItem(store);
    setValue(initial);
  };
  return [value, setValue, clear];
}

/** A device that is full keeps what it has: what is typed stays on the page. */
function keep(store: string, value: unknown): void {
  try {
    localStorage.setItem(store, JSON.stringify(value));
  } catch {
    // Full, or refused in a private window.
  }
}

function read<T>(store: string, initial: T): T {
  try {
    const kept = localStorage.getItem(store);
    return kept === null ? initial : (JSON.parse(kept) as T);
  } catch {
    return initial;
  }
}

/** A choice of how things are shown, kept on this device. */
export function useStored<T>(key: string, initial: T): [T, (next: T) => void] {
  const store = `diurna.shown.${key}`;
  const [value, setValue] = useState<T>(() => read(store, initial));
  return [
    value,
    (next) => {
      keep(store, next);
      setValue(next);
    },
  ];
}
