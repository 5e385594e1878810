import { expect, test } from '@jest/globals';
import { wordlist } from '@scure/bip39/wordlists/english.js';
import { guessBits, phrase, strengthOf } from './strength.ts';

test('a phrase is four words of the list, another each time, and strong', async () => {
  const phrases = await Promise.all(Array.from({ length: 50 }, () => phrase()));
  expect(new Set(phrases).size).toBe(50);
  for (const each of phrases) {
    const parts = each.split('-');
    expect(parts).toHaveLength(4);
    expect(parts.every((word) => wordlist.includes(word))).toBe(true);
  }
  for (const each of phrases.slice(0, 3)) expect(strengthOf(await guessBits(each))).toBe('strong');
});

test('what many people choose is weak, and so is what is known of somebody', async () => {
  for (const text of ['password12', 'qwertyuiop', '1234567890', 'aaaaaaaaaa'])
    expect([text, strengthOf(await guessBits(text))]).toEqual([text, 'weak']);
  const own = 'brightwater-petrossian';
  expect(await guessBits(own, ['brightwater', 'petrossian'])).toBeLessThan(await guessBits(own));
});

test('it grows with every letter that cannot be guessed', async () => {
  const bits = await Promise.all(['x7', 'x7Qf', 'x7Qf9w', 'x7Qf9wLz'].map((text) => guessBits(text)));
  expect(bits).toEqual(bits.toSorted((a, b) => a - b));
  expect([29.9, 30, 39.9, 40].map(strengthOf)).toEqual(['weak', 'fair', 'fair', 'strong']);
});
