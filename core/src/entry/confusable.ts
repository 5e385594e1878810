/** Which sign stands for those that are mistaken for it. */
const standsFor: Record<string, string> = { O: '0', I: '1', L: '1', S: '5', B: '8', Z: '2' };

/** A code in capitals with its look-alikes folded. @example confusableKey('BOIL') // '8011' */
export const confusableKey = (code: string): string => code.replace(/[OILSBZ]/gu, (letter) => standsFor[letter] ?? letter);
