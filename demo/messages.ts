import { Visitor } from './visitor.ts';

/** Who of the demo has mail, and what comes there; the rest read the book. `.example` reaches nobody (RFC 2606). */
const WITH_MAIL: [username: string, choices: Partial<Record<string, 'book' | 'mail' | 'morning'>>][] = [
  ['ilse', { desk: 'mail', hires: 'mail' }],
  ['ines', { work: 'mail' }],
  ['hanne', { desk: 'morning' }],
];
const USUAL = { work: 'morning', card: 'book', desk: 'morning', hires: 'mail', door: 'book' };

/** Where some people of the yard have mail, and the hire desk, which is told by mail alone. */
export async function chooseMail(address: string, visitor: Visitor, password: string): Promise<void> {
  for (const [username, choices] of WITH_MAIL) {
    const person = new Visitor(address);
    await person.signIn(username, password);
    await person.send('PUT', '/session/messages', {
      address: `${username}@larkspur.example`,
      choices: { ...USUAL, ...choices },
      morning: true,
      version: null,
    });
  }
  await visitor.send('POST', '/messages/contacts', {
    name: 'Hire desk',
    address: 'desk@larkspur-hire.example',
    baseId: null,
    hears: ['hires', 'morning'],
  });
}
