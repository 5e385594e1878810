import { parse, type SFCTemplateBlock } from 'vue/compiler-sfc';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';

/* All that the interface says stands in words.ts: screens hold no text of their own. */

const root = import.meta.dirname;
const screens = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.vue'));
const said = new Set(['label', 'title', 'placeholder', 'hint', 'aria-label', 'alt', 'text', 'subtitle', 'close-label', 'no-data-text']);
const hasLetters = (text: string): boolean => /\p{L}{2}/u.test(text);

interface Node {
  type: number;
  content?: string | { content?: string };
  props?: { type: number; name: string; value?: { content: string }; exp?: { content: string }; arg?: { content: string } }[];
  children?: Node[];
}

function textsOf(node: Node): string[] {
  const own: string[] = [];
  if (node.type === 2 && typeof node.content === 'string' && hasLetters(node.content)) own.push(node.content.trim());
  // Strings inside `{{ … }}` count as text, the names of classes and routes in attributes do not.
  if (node.type === 5 && typeof node.content === 'object') own.push(...literals(node.content.content ?? ''));
  for (const prop of node.props ?? []) {
    if (prop.type === 6 && said.has(prop.name) && hasLetters(prop.value?.content ?? ''))
      own.push(`${prop.name}=${prop.value?.content ?? ''}`);
    if (prop.type === 7 && prop.name === 'bind' && said.has(prop.arg?.content ?? '')) own.push(...literals(prop.exp?.content ?? ''));
  }
  return [...own, ...(node.children ?? []).flatMap(textsOf)];
}

/** Quoted strings that are written out; not those that a value is compared with, or that pick a word. */
const literals = (code: string): string[] =>
  [...code.matchAll(/(===|!==|\[|\()?\s*'([^']*)'/gu)].flatMap(([, before, text = '']) => (before || !hasLetters(text) ? [] : [text]));

const screen = (template: string): string[] => {
  const { ast } = parse(`<template>${template}</template>`).descriptor.template as SFCTemplateBlock;
  return ast ? textsOf(ast as unknown as Node) : [];
};

test.each(screens)('%s says nothing of its own', (name) => {
  const { template } = parse(readFileSync(path.join(root, name), 'utf8')).descriptor;
  expect(template?.ast ? textsOf(template.ast as unknown as Node) : []).toEqual([]);
});

test('there are screens to look at, and the look finds what a screen says', () => {
  expect(screens.length).toBeGreaterThan(25);
  expect(screen('<p>Hello there</p>')).toEqual(['Hello there']);
  expect(screen("<p>{{ open ? 'Close it' : words.open }}</p>")).toEqual(['Close it']);
  expect(screen('<v-btn title="Press me" class="big" :label="words.x" />')).toEqual(['title=Press me']);
  expect(screen("<p v-if=\"state === 'open'\">{{ words[state === 'open' ? 'a' : 'b'] }}</p>")).toEqual([]);
});
