import { tidyName } from './group-name.ts';

/** One line of an outline: what it says, and how deep it stands. */
export interface OutlineLine {
  /** Counted from 1, as people count. */
  line: number;
  text: string;
  /** Index of the line it stands under; null at the top. */
  within: number | null;
  depth: number;
}

const tabWidth = 4;

/**
 * Lines that stand under one another by how far they are indented, with spaces or tabs; list marks are left off.
 * A line that is indented less than the one above but not like any further up belongs to the nearest that is less indented.
 * @example readOutline('Gullhaven\n  Inshore crew\n  Cadets') // 'Inshore crew' and 'Cadets' within line 0
 */
export function readOutline(text: string): OutlineLine[] {
  const lines: OutlineLine[] = [];
  const open: { index: number; indent: number }[] = [];
  text.split(/\r\n|\r|\n/u).forEach((raw, at) => {
    const words = tidyName(raw.replace(/^[\s•*–-]+(?=\S)/u, ''));
    if (words === '') return;
    const indent = [...(/^\s*/u.exec(raw)?.[0] ?? '')].reduce((sum, letter) => sum + (letter === '\t' ? tabWidth : 1), 0);
    while ((open.at(-1)?.indent ?? -1) >= indent) open.pop();
    const index = lines.push({ line: at + 1, text: words, within: open.at(-1)?.index ?? null, depth: open.length }) - 1;
    open.push({ index, indent });
  });
  return lines;
}

/**
 * The name of a group and who leads it, as one line says it.
 * @example splitLedBy('Tower watch led by Ada Lind ada@brannoch.example, bao@brannoch.example')
 * // { name: 'Tower watch', leaders: ['Ada Lind ada@brannoch.example', 'bao@brannoch.example'] }
 */
export function splitLedBy(text: string): { name: string; leaders: string[] } {
  const [name = '', led = ''] = text.split(/\s+led by\s+/iu, 2);
  return {
    name: tidyName(name),
    leaders: led
      .split(/[,;]/u)
      .map(tidyName)
      .filter((leader) => leader !== ''),
  };
}
