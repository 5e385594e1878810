/** Signs that nobody sees and that make two alike texts differ, or turn a line around. */
/** Controls that part words: a vertical tab, a form feed, and the line ends of other systems. */
const parting = /[\v\f\u0085\u2028\u2029]/gu;
/** Code points that are no characters. */
const noCharacter = /[\uFDD0-\uFDEF\uFFFE\uFFFF]|\p{Cs}/gu;
const invisible = /(?![\t\n\r])[\p{Cc}\u00AD\u200B\u200E\u200F\u202A-\u202E\u2060-\u2064\u2066-\u2069\uFEFF]/gu;
/** Joiners are letters' business in some scripts, and nobody's beside plain ones. */
const strayJoiner =
  /(?<![\p{Script=Arabic}\p{Script=Devanagari}\p{Script=Bengali}\p{Script=Malayalam}\p{Script=Sinhala}\p{Emoji}])[\u200C\u200D]/gu;
/** An export puts a quote before what a spreadsheet would run as a formula. */
const madeHarmless = /^'(?=[=+\-@\t\r\uFF1D\uFF0B\uFF0D\uFF20])/u;

/** A cell without what nobody sees in it; inner line ends stay. @example cleanCell('Ada\u200B ') // 'Ada' */
export function cleanCell(text: string): string {
  return text
    .replace(parting, ' ')
    .replace(noCharacter, '')
    .replace(invisible, '')
    .replace(strayJoiner, '')
    .replace(madeHarmless, '')
    .trim();
}
