import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { idOf, type Picture, type Refused, type Waiting } from './outbox.ts';

interface Outbox {
  /** What this device holds and the book has not answered yet. */
  waiting: Waiting[];
  refused: Refused[];
  /** Pictures on this device, without their bytes. */
  pictures: Picture[];
  signal: boolean;
  loaded: boolean;
}

/** What the screen shows of the outbox; the device's store is the truth. */
export const outbox = createSlice({
  name: 'outbox',
  initialState: (): Outbox => ({
    waiting: [],
    refused: [],
    pictures: [],
    signal: typeof navigator === 'undefined' || navigator.onLine,
    loaded: false,
  }),
  reducers: {
    filled: (state, { payload }: PayloadAction<{ waiting: Waiting[]; refused: Refused[]; pictures?: Picture[] }>) => ({
      ...state,
      pictures: [],
      ...payload,
      loaded: true,
    }),
    added: (state, { payload }: PayloadAction<Waiting>) => {
      if (!state.waiting.some((w) => w.order === payload.order)) state.waiting.push(payload);
    },
    answered: (state, { payload }: PayloadAction<{ ids: string[]; refused: Refused[] }>) => {
      state.waiting = state.waiting.filter((w) => !payload.ids.includes(idOf(w)));
      state.refused.push(...payload.refused.filter((r) => !state.refused.some((x) => x.id === r.id)));
    },
    pictured: (state, { payload: { id, picture } }: PayloadAction<{ id: string; picture: Picture | null }>) => {
      state.pictures = state.pictures.filter((p) => p.id !== id);
      if (picture) state.pictures.push(picture);
    },
    takenBack: (state, { payload }: PayloadAction<string>) => {
      state.waiting = state.waiting.filter((w) => idOf(w) !== payload);
    },
    awayPut: (state, { payload }: PayloadAction<string>) => {
      state.refused = state.refused.filter((r) => r.id !== payload);
    },
    heard: (state, { payload }: PayloadAction<boolean>) => {
      state.signal = payload;
    },
  },
});
export const { filled, added, answered, awayPut, heard, pictured, takenBack } = outbox.actions;
