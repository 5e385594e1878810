import { groupColours, type TallyFigure } from '@gate-roster/core';
import { z } from 'zod';

/** Shapes that several rooms share. */
export const id = z.number().int().positive();
/** Digits only: `0x10` and `1e3` are no ids. */
export const idInPath = z
  .string()
  .regex(/^[1-9]\d{0,15}$/u)
  .or(z.number().int().positive())
  .transform(Number);
/** A whole number in an address, in digits only: nothing is not 0, and `1e3` is no number. */
export const numberInAddress = (least: number, most: number) =>
  z
    .string()
    .regex(/^(0|[1-9]\d{0,8})$/u)
    .or(z.number())
    .transform(Number)
    .pipe(z.number().int().min(least).max(most));
/** A list is read on from at most so far down. */
export const mostPassedOver = 10_000_000;
export const day = z.iso.date();
export const moment = z.iso.datetime();
export const yesNo = z.enum(['yes', 'no']);
export const password = z.string().min(10).max(200);
export const groupParams = z.object({ groupId: idInPath });

/** A group on its own, or with all below it. */
export const scopeQuery = z.strictObject({ subgroups: yesNo.default('yes') });

export const tally = z.object({
  all: z.number().int(),
  done: z.number().int(),
  underWay: z.number().int(),
  exempt: z.number().int(),
  overdue: z.number().int(),
  scoreSum: z.number(),
  scored: z.number().int(),
} satisfies Record<TallyFigure, z.ZodNumber>);

export const named = z.object({ id, name: z.string() });
export const status = z.enum(['not begun', 'under way', 'done']);
export const lateness = z.enum(['on time', 'due soon', 'overdue', 'done late']);
export const csvCell = z.string();

export const personIds = z.array(id).min(1).max(10_000);
export const groupIds = z.array(id).min(1).max(1000);
export const shortText = z.string().trim().min(1).max(200);
export const tagName = z.string().trim().min(1).max(60);
export const colour = z.enum(groupColours);

/** Some of the values; what is left out stays as it is. */
export type Some<T> = { [K in keyof T]?: T[K] | undefined };

/** How far somebody is in a course. */
export const howFar = {
  status,
  lateness,
  due: day.nullable(),
  doneDay: day.nullable(),
  score: z.number().nullable(),
  exempt: z.boolean(),
};

/** A page of a list of people: after the last of the page before, whose cursor has their names in it, of 120 letters each. */
export const pageOfNames = { after: z.string().max(3000).optional(), limit: numberInAddress(1, 200).default(100) };
