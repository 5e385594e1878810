/*
 * How hard a password or a chosen code is to guess. The lists it compares with are large, so they come when they are needed.
 */
let estimator: Promise<(text: string, known: string[]) => number> | null = null;

async function load(): Promise<(text: string, known: string[]) => number> {
  const [{ ZxcvbnFactory }, common] = await Promise.all([import('@zxcvbn-ts/core'), import('@zxcvbn-ts/language-common')]);
  const zxcvbn = new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs });
  return (text, known) => zxcvbn.check(text, known).guessesLog10 / Math.log10(2);
}

/** About how many bits somebody who guesses has to go through, and who knows these words. */
export async function guessBits(text: string, known: string[] = []): Promise<number> {
  estimator ??= load();
  return (await estimator)(text, known);
}

/** Weak below 30 bits, fair below 40. A random phrase of four words has 44. */
export const strengthOf = (bits: number): 'weak' | 'fair' | 'strong' => (bits < 30 ? 'weak' : bits < 40 ? 'fair' : 'strong');

const words = 4;

/** Four words by chance out of 2,048: 44 bits, and easy to remember. @example 'lantern-harbour-velvet-copper' */
export async function phrase(): Promise<string> {
  const { wordlist } = await import('@scure/bip39/wordlists/english.js');
  // 2,048 divides 65,536, so no word is likelier than another.
  const numbers = crypto.getRandomValues(new Uint16Array(words));
  return [...numbers].map((number) => wordlist[number % wordlist.length] ?? '').join('-');
}
