import express, { type Request, type Response } from 'express';
import { ProblemError } from './problem.ts';

/** JSON nested deeper than this is refused before it is parsed; nothing in the contract comes near. */
const deepest = 24;

/** How many bytes of a body are read: most requests, those that carry a change or many ids, and an upload in base64. */
export const bodyLimits = { ordinary: '100kb', wide: '2mb', upload: '3mb' } as const;
export type BodyLimit = keyof typeof bodyLimits;

const readers = Object.fromEntries(
  // Compressed bodies are refused: 15 kB can hold seconds of work.
  Object.entries(bodyLimits).map(([name, limit]) => [name, express.raw({ type: () => true, inflate: false, limit })]),
) as Record<BodyLimit, ReturnType<typeof express.raw>>;

/**
 * Reads a JSON body; called once it is known who calls.
 * @returns Undefined when there is none.
 * @throws ProblemError `too-large`, or `bad-request` when it is no JSON, nested too deep, or holds what is no text.
 */
export async function readBody(request: Request, response: Response, limit: BodyLimit): Promise<unknown> {
  await new Promise<void>((resolve, reject) => {
    readers[limit](request, response, (error?: unknown) => {
      if (error) reject(error instanceof Error ? error : new Error('the body could not be read'));
      else resolve();
    });
  });
  const bytes = request.body as unknown;
  if (!Buffer.isBuffer(bytes) || bytes.length === 0) return undefined;
  return parseJson(bytes);
}

/** @throws ProblemError `bad-request`. */
export function parseJson(bytes: Buffer): unknown {
  let value: unknown;
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    if (isTooDeep(text)) throw new RangeError('nested too deep');
    value = JSON.parse(text);
  } catch (error) {
    throw new ProblemError('bad-request', {}, { cause: error });
  }
  checkText(value, 'body');
  return value;
}

function isTooDeep(text: string): boolean {
  let depth = 0;
  let isInString = false;
  for (let at = 0; at < text.length; at++) {
    const sign = text.charCodeAt(at);
    if (isInString) {
      if (sign === 0x5c) at++;
      else if (sign === 0x22) isInString = false;
    } else if (sign === 0x22) isInString = true;
    else if (sign === 0x7b || sign === 0x5b) {
      if (++depth > deepest) return true;
    } else if (sign === 0x7d || sign === 0x5d) depth--;
  }
  return false;
}

/**
 * Text is well-formed Unicode without NUL: PostgreSQL stores nothing else, so it is refused once, at the door.
 * @throws ProblemError `bad-request` with the place.
 */
export function checkText(value: unknown, place: string): void {
  if (typeof value === 'string') {
    if (value.includes('\0') || !value.isWellFormed())
      throw new ProblemError('bad-request', { where: [{ place, what: 'Holds a sign that is no text' }] });
  } else if (Array.isArray(value)) value.forEach((each, index) => checkText(each, `${place}.${index}`));
  else if (typeof value === 'object' && value !== null)
    for (const [key, each] of Object.entries(value)) {
      checkText(key, place);
      checkText(each, `${place}.${key}`);
    }
}
