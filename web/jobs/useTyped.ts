import { typedKey, type CardAct, type CardState, type TypedField } from '@diurna/core/visit';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';

/** Typing that stops for so long is written on the card. */
const QUIET_MS = 700;

export interface Typed {
  /** What stands in each field: as on the card, with what is being typed. */
  texts: ReadonlyMap<string, string>;
  text: (field: TypedField) => string;
  type: (field: TypedField, text: string) => void;
  /** Writes down what is still being typed; for when a field is left, and before the finish. */
  keep: () => Promise<void>;
}

/**
 * Figures typed on a card, each an entry of it: a colleague who takes the card over has them, and a reload loses none.
 */
export function useTyped(state: CardState, write: (act: CardAct) => Promise<void>): Typed {
  const [pending, setPending] = useState<Record<string, string>>({});
  const now = useRef({ pending, state, write });
  useEffect(() => {
    now.current = { pending: now.current.pending, state, write };
  }, [state, write]);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const keep = useCallback(async () => {
    clearTimeout(timer.current);
    const { pending: left, state: on, write: put } = now.current;
    now.current.pending = {};
    for (const [field, text] of Object.entries(left))
      if ((on.typed.get(field)?.text ?? '') !== text) await put({ kind: 'type', field, text });
    setPending((old) => Object.fromEntries(Object.entries(old).filter(([field, text]) => left[field] !== text)));
  }, []);
  useEffect(() => {
    // A phone that is put away tells nobody else.
    const leave = () => {
      void keep();
    };
    document.addEventListener('visibilitychange', leave);
    return () => {
      document.removeEventListener('visibilitychange', leave);
      leave();
    };
  }, [keep]);
  const type = useCallback(
    (field: TypedField, text: string) => {
      const key = typedKey(field);
      now.current.pending = { ...now.current.pending, [key]: text };
      setPending((old) => ({ ...old, [key]: text }));
      clearTimeout(timer.current);
      timer.current = setTimeout(() => {
        void keep();
      }, QUIET_MS);
    },
    [keep],
  );
  const texts = useMemo(
    () =>
      new Map([
        ...[...state.typed].map(([field, { text }]): [string, string] => [field, text]),
        ...Object.entries(pending),
      ]),
    [state, pending],
  );
  const text = useCallback((field: TypedField) => texts.get(typedKey(field)) ?? '', [texts]);
  return { texts, text, type, keep };
}
