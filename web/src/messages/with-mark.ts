export type Mark = 'bold' | 'list' | 'link';

/** The text with a mark put on a part of it, and what is to be selected afterwards. */
export function withMark(text: string, { from, to }: { from: number; to: number }, mark: Mark): { text: string; from: number; to: number } {
  const [before, chosen, after] = [text.slice(0, from), text.slice(from, to), text.slice(to)];
  if (mark === 'bold') return { text: `${before}**${chosen}**${after}`, from: from + 2, to: to + 2 };
  if (mark === 'link') {
    const link = `[${chosen}](https://)`;
    const at = chosen === '' ? from + 1 : from + link.length - 1;
    return { text: `${before}${link}${after}`, from: at, to: at };
  }
  const start = before.lastIndexOf('\n') + 1;
  const lines = text.slice(start, to).split('\n');
  const listed = lines.map((line) => `- ${line.replace(/^- /u, '')}`).join('\n');
  return { text: `${text.slice(0, start)}${listed}${after}`, from: start + listed.length, to: start + listed.length };
}
