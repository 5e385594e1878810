// Circles of imports, and files that have outgrown their neighbours. Part of npm test. Type-only imports do not count: they are gone when the code runs.
import fs from 'node:fs';
import path from 'node:path';
import { root } from './ensure.mjs';

const mostLines = 350;

const folders = ['core', 'contract', 'server', 'web', 'demo', 'bench', 'e2e'].map((floor) => path.join(root, floor, 'src'));
const files = folders.flatMap((folder) =>
  fs
    .readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.(ts|vue)$/u.test(entry.name))
    .map((entry) => path.join(entry.parentPath, entry.name)),
);
const textOf = new Map(files.map((file) => [file, fs.readFileSync(file, 'utf8')]));

/** Files that a file needs when it is loaded. */
function importsOf(file) {
  const found = [];
  for (const [, names, from] of textOf.get(file).matchAll(/^(?:import|export) (?!type\b)([^;]*?)from '(\.[^']+)';$/gmu)) {
    const values = names.includes('{') && !/^[^{]*\w/u.test(names.split('{')[0]) ? names.replace(/[{}]/gu, '').split(',') : ['all'];
    const isNeeded = values.some((name) => name.trim() !== '' && !name.trim().startsWith('type '));
    if (isNeeded) found.push(path.resolve(path.dirname(file), from));
  }
  return found.filter((each) => textOf.has(each));
}
const graph = new Map(files.map((file) => [file, importsOf(file)]));

/** Tarjan's strongly connected components: each with more than one file is a circle. */
function circles() {
  const state = new Map();
  const stack = [];
  const found = [];
  const visit = (file) => {
    const own = { index: state.size, low: state.size, isOpen: true };
    state.set(file, own);
    stack.push(file);
    for (const next of graph.get(file)) {
      if (!state.has(next)) own.low = Math.min(own.low, visit(next).low);
      else if (state.get(next).isOpen) own.low = Math.min(own.low, state.get(next).index);
    }
    if (own.low === own.index) {
      const part = [];
      for (let last; last !== file;) {
        last = stack.pop();
        state.get(last).isOpen = false;
        part.push(last);
      }
      if (part.length > 1) found.push(part);
    }
    return own;
  };
  for (const file of files) if (!state.has(file)) visit(file);
  return found;
}

const short = (file) => path.relative(root, file);
const wrong = [
  ...circles().map((part) => `these files import one another in a circle: ${part.map(short).sort().join(', ')}`),
  ...files.flatMap((file) => {
    const lines = textOf.get(file).split('\n').length - 1;
    return lines > mostLines ? [`${short(file)} has ${lines} lines, more than ${mostLines}: look for the second idea in it`] : [];
  }),
];
for (const each of wrong) console.error(each);
process.exit(wrong.length > 0 ? 1 : 0);
