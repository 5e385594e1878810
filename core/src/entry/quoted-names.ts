/** Signs that part names from one another in the cells of a roster. */
const special = /[;|,>"\n]/u;

/**
 * A name as it stands in a cell with others: in double quotes when it holds a sign that parts names, quotes in it doubled.
 * @example quoteName('Boats, small') // '"Boats, small"'
 */
export const quoteName = (name: string): string => (special.test(name) ? `"${name.replaceAll('"', '""')}"` : name);

/** A name without the quotes around it. @example unquoteName('"A > B"') // 'A > B' */
export const unquoteName = (text: string): string => {
  const name = text.trim();
  return name.length > 1 && name.startsWith('"') && name.endsWith('"') ? name.slice(1, -1).replaceAll('""', '"') : name;
};

/**
 * Parts of a cell, split at any of these signs outside quotes; each as it stands there, trimmed.
 * @example splitQuoted('Shore > "A; B"; Cadets', ';') // ['Shore > "A; B"', 'Cadets']
 */
export function splitQuoted(text: string, separators: string): string[] {
  const parts: string[] = [];
  let from = 0;
  let isQuoted = false;
  let isAtStart = true;
  for (let at = 0; at <= text.length; at++) {
    const sign = text[at];
    if (at === text.length || (!isQuoted && sign !== undefined && separators.includes(sign))) {
      parts.push(text.slice(from, at).trim());
      from = at + 1;
      isAtStart = true;
      continue;
    }
    // A quote opens only where a name begins: inside a word it is a sign like any other.
    if (isQuoted) {
      if (sign === '"' && text[at + 1] === '"') at++;
      else if (sign === '"') isQuoted = false;
    } else if (sign === '"' && isAtStart) {
      isQuoted = true;
      isAtStart = false;
    } else if (sign === '>') isAtStart = true;
    else if (sign?.trim() !== '') isAtStart = false;
  }
  return parts;
}
