import type { Session } from '@diurna/contract/people';
import { api, carry, reads, writes } from '../app/api.ts';

const heard = ({ csrfToken }: Session) => {
  carry(csrfToken);
};

/** What the rooms read and write of people: every route by its name in the contract. */
export const peopleApi = api.injectEndpoints({
  endpoints: (b) => ({
    readSession: reads(b, 'readSession', ['Session'], { heard }),
    signIn: writes(b, 'signIn', [], { heard }),
    signOut: writes(b, 'signOut', []),
    signOutEverywhere: writes(b, 'signOutEverywhere', []),
    changePassword: writes(b, 'changePassword', []),
    listDevices: reads(b, 'listDevices', ['Session']),
    endDevice: writes(b, 'endDevice', ['Session']),
    readSecondFactor: reads(b, 'readSecondFactor', ['Session', 'People']),
    // The page that sets it up goes on until the codes are kept: the session is read again after.
    beginSecondFactor: writes(b, 'beginSecondFactor', []),
    confirmSecondFactor: writes(b, 'confirmSecondFactor', ['People']),
    endSecondFactor: writes(b, 'endSecondFactor', ['People']),
    resetSecondFactor: writes(b, 'resetSecondFactor', []),
    firstRun: writes(b, 'firstRun', [], { heard }),
    listPeople: reads(b, 'listPeople', ['People']),
    addPerson: writes(b, 'addPerson', ['People', 'Records']),
    editPerson: writes(b, 'editPerson', ['People', 'Records']),
    readSettings: reads(b, 'readSettings', ['People']),
    editSettings: writes(b, 'editSettings', ['People', 'Session', 'Jobs', 'Due', 'Stores']),
  }),
});
