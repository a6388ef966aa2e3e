/** What a message can be about. */
export const MESSAGE_KINDS = ['work', 'card', 'desk', 'hires', 'door'] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

/**
 * How a message reaches somebody: it always stands in the book, and may come by mail too, at once or in the morning.
 */
export const MESSAGE_WAYS = ['book', 'mail', 'morning'] as const;
export type MessageWay = (typeof MESSAGE_WAYS)[number];

export type MessageChoices = Record<MessageKind, MessageWay>;

/** What each kind is about, for people. */
export const MESSAGE_WORDS: Record<MessageKind, string> = {
  work: 'Cards given to you, moved or called off',
  card: 'Words on your cards, and cards handed to you as they stand',
  desk: 'What the yard tells the desk: engines held, steps left out, parts asked for',
  hires: 'Hires that changed boats',
  door: 'Your name used to sign in on a new device',
};

/** As long as somebody has chosen nothing: what cannot wait comes at once, the rest in the morning. */
const USUAL: MessageChoices = { work: 'morning', card: 'book', desk: 'morning', hires: 'mail', door: 'mail' };

/** What somebody chose, and the usual where they did not. */
export const choicesOf = (chosen: Partial<MessageChoices>): MessageChoices => ({ ...USUAL, ...chosen });
