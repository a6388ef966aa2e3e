import { api, reads, writes } from '../app/api.ts';

/** What the rooms read and write of messages: every route by its name in the contract. */
export const messagesApi = api.injectEndpoints({
  endpoints: (b) => ({
    listNotices: reads(b, 'listNotices', ['Notices']),
    readNotices: writes(b, 'readNotices', ['Notices']),
    readMyMessages: reads(b, 'readMyMessages', ['Messages', 'People']),
    setMyMessages: writes(b, 'setMyMessages', ['Messages', 'Mail']),
    tryMyMail: writes(b, 'tryMyMail', ['Mail']),
    listContacts: reads(b, 'listContacts', ['Messages']),
    addContact: writes(b, 'addContact', ['Messages']),
    editContact: writes(b, 'editContact', ['Messages']),
    dropContact: writes(b, 'dropContact', ['Messages', 'Mail']),
    writeMessage: writes(b, 'writeMessage', ['Mail']),
    listMail: reads(b, 'listMail', ['Mail']),
    sendMailAgain: writes(b, 'sendMailAgain', ['Mail']),
    stopMail: writes(b, 'stopMail', ['Mail']),
  }),
});
