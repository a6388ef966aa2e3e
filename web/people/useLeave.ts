import { api } from '../app/api.ts';
import { forgetKept } from '../app/offline.ts';
import { store } from '../app/store.ts';
import { peopleApi } from './api.ts';

/** Signing out: what this device kept to show is forgotten, what was not sent yet stays on it. */
export function useLeave(): { signOut: () => Promise<void>; signOutEverywhere: () => Promise<void> } {
  const [here] = peopleApi.useSignOutMutation();
  const [everywhere] = peopleApi.useSignOutEverywhereMutation();
  const leave = async (act: () => { unwrap: () => Promise<unknown> }) => {
    await act()
      .unwrap()
      .catch(() => undefined);
    await forgetKept();
    store.dispatch(api.util.resetApiState());
    location.assign('/');
  };
  return { signOut: () => leave(here), signOutEverywhere: () => leave(everywhere) };
}
