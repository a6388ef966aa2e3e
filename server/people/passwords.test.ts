import { expect, test } from '@jest/globals';
import { stepOf } from './second-factor.ts';
import { guessable } from './passwords.ts';

const OWN = ['Ines Okoye', 'ines', 'Larkspur Boats'];

// NIST SP 800-63B 5.1.1.2: compare with lists, with repetitions, and with the name of the person and the service.
test.each([
  ['1qaz2wsx3edc', /every list/],
  ['qwerty123456', /every list/],
  ['QWERTY123456', /every list/],
  ['passwordpassword', /every list/],
  ['password2026!', /hung on/],
  ['!!!!dragon1987', /hung on/],
  ['aaaaaaaaaaaa', /one sign/],
  ['121212121212', /one sign|every list/],
  ['InesOkoye2026', /a name/],
  ['larkspur-boats-1', /a name/],
])('%s is refused', (password, why) => {
  expect(guessable(password, OWN)).toMatch(why);
});

test.each([
  'copper heron tidal jig',
  'tern-outside-wet-lamp',
  'Ines likes long walks',
  'ŝajnas-ke-pluvos',
  'x9!kq03vwmz-',
])('%s is taken: no rule of what signs it holds', (password) => {
  expect(guessable(password, OWN)).toBeNull();
});

// RFC 6238, appendix B, SHA-1: the secret is the ASCII text 12345678901234567890; the last six of its eight figures.
const SECRET = 'GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ';
test.each([
  [59, '287082', 0x1],
  [1111111109, '081804', 0x23523ec],
  [1111111111, '050471', 0x23523ed],
  [1234567890, '005924', 0x273ef07],
  [2000000000, '279037', 0x3f940aa],
  [20000000000, '353130', 0x27bc86aa],
])('RFC 6238: at %d s the code is %s', (seconds, code, step) => {
  expect(stepOf(SECRET, code, seconds * 1000)).toBe(step);
  // The step before and after are taken too, further ones are not.
  expect(stepOf(SECRET, code, (seconds + 30) * 1000)).toBe(step);
  expect(stepOf(SECRET, code, (seconds + 61) * 1000)).toBeNull();
  expect(stepOf(SECRET, code.slice(0, 5) + String((Number(code[5]) + 1) % 10), seconds * 1000)).toBeNull();
});
