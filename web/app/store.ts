import { configureStore, createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { useDispatch, useSelector } from 'react-redux';
import { api } from './api.ts';
import { outbox } from '../outbox/outbox-state.ts';
import { applyPalette, keepMode, storedMode, type Mode } from './palette.ts';

interface Notice {
  text: string;
  tone: 'done' | 'wrong';
  /** A place to go next. */
  link?: { to: string; word: string };
  /** The decision that can be taken back from here. */
  changeId?: number | null;
}

interface Book {
  /** The day the ribbon points at; null = today at the person's base. */
  day: string | null;
  mode: Mode;
  notice: Notice | null;
}

const book = createSlice({
  name: 'book',
  initialState: (): Book => ({ day: null, mode: storedMode(), notice: null }),
  reducers: {
    turnTo: (state, action: PayloadAction<string | null>) => {
      state.day = action.payload;
    },
    light: (state, action: PayloadAction<Mode>) => {
      state.mode = action.payload;
    },
    say: (state, action: PayloadAction<Notice | null>) => {
      state.notice = action.payload;
    },
  },
});

export const { turnTo, light, say } = book.actions;

export const store = configureStore({
  reducer: { book: book.reducer, outbox: outbox.reducer, [api.reducerPath]: api.reducer },
  // Pictures wait in the outbox too: looking for mutations in them takes longer than typing.
  middleware: (defaults) => defaults({ immutableCheck: false, serializableCheck: false }).concat(api.middleware),
});
setupListeners(store.dispatch);

let mode: Mode | null = null;
store.subscribe(() => {
  const next = store.getState().book.mode;
  if (next === mode) return;
  if (mode !== null) keepMode(next);
  mode = next;
  applyPalette(next);
});
applyPalette(storedMode());

export type State = ReturnType<typeof store.getState>;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<State>();
