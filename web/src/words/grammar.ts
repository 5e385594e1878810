import { showNumber } from '../ui/format.ts';

export const many = (count: number, one: string, more: string): string => (count === 1 ? one : more);

export const some = (count: number, one: string, more: string): string => `${showNumber(count)} ${many(count, one, more)}`;

export const list = (parts: readonly string[]): string =>
  parts.length <= 1 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1) ?? ''}`;
