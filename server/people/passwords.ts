import { hash, verify } from '@node-rs/argon2';
import { dictionary } from '@zxcvbn-ts/language-common';
import { faulty } from '../http/problem.ts';

/** Argon2id with the package's defaults (19 MiB, two passes), as OWASP's cheat sheet on password storage asks. */
export const hashPassword = (password: string): Promise<string> => hash(password);

/** Whether this is the password of the hash; a broken hash opens nothing. */
export const isPassword = (passwordHash: string, password: string): Promise<boolean> =>
  verify(passwordHash, password).catch(() => false);

const common = new Set(dictionary['passwords-common']);

/** What is left when a word written twice, or with figures and signs hung on, is taken back to the word. */
function bare(text: string): string {
  const word = /^(.+?)\1+$/.exec(text)?.[1] ?? text;
  return word.replaceAll(/[^\p{L}]+$|^[^\p{L}]+/gu, '');
}

/**
 * Why others would guess a password early, in words; null = nothing known against it. No rule of what signs it holds:
 * NIST SP 800-63B section 5.1.1.2 asks to compare with lists and with what is known of the person instead.
 * @param own names of the person and the company
 */
export function guessable(password: string, own: string[]): string | null {
  const text = password.toLowerCase();
  if (common.has(text) || common.has(/^(.+?)\1+$/.exec(text)?.[1] ?? text))
    return 'stands in every list of common passwords';
  const word = bare(text);
  if (new Set(text).size < 5) return 'is hardly more than one sign again and again';
  if (common.has(word)) return 'is a common password with something hung on';
  const names = own.flatMap((name) => name.toLowerCase().split(/[^\p{L}\p{N}]+/u)).filter((name) => name.length >= 3);
  const rest = names.reduce((left, name) => left.replaceAll(name, ''), text).replaceAll(/[^\p{L}]/gu, '');
  if (rest.length < 4) return 'is made of a name that is known here';
  return null;
}

/** @throws 422 at the field, when the password would be guessed early */
export function refuseGuessable(path: string, password: string, own: string[]): void {
  const why = guessable(password, own);
  if (why !== null) throw faulty(path, `This password ${why}. Choose another, four words that do not belong together.`);
}
