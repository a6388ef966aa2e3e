import { api } from '../app/api.ts';
import { lock } from '../app/device.ts';
import { forgetKept } from '../app/offline.ts';
import { store } from '../app/store.ts';
import { peopleApi } from './api.ts';

/**
 * Signing out: what this device kept to show is forgotten, what was not sent yet stays on it. Without signal the device
 * is locked until the book has heard of it.
 */
export function useLeave(): { signOut: () => Promise<void>; signOutEverywhere: () => Promise<void> } {
  const [here] = peopleApi.useSignOutMutation();
  const [everywhere] = peopleApi.useSignOutEverywhereMutation();
  const leave = async (act: () => { unwrap: () => Promise<unknown> }) => {
    const told = await act()
      .unwrap()
      .then(
        () => true,
        // Already out is out; anything else was not heard: this device stays shut until the book is told.
        (error: unknown) => (error as { status?: unknown } | undefined)?.status === 401,
      );
    if (!told) lock();
    await forgetKept();
    store.dispatch(api.util.resetApiState());
    location.assign('/');
  };
  return { signOut: () => leave(here), signOutEverywhere: () => leave(everywhere) };
}
