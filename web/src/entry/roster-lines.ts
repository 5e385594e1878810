import type { CheckedRow, Delimiter, Encoding, KnownPerson, Mapping, Preset, RosterField, RowOutcome, RowReason } from '@gate-roster/core';

/* What goes between the page and the worker that holds the file. */

/** As many rows as go along with a change, or in one part (contract: rowsAtOnce; the worker stays free of the contract). */
export const rowsAtOnce = 5000;
/** Of one part, in JSON; a request holds 2 MB. */
export const bytesAtOnce = 1_500_000;
/** As many rows as go along with the change itself. */
export const rowsWithChange = 2000;

export type Stage = 'reading' | 'looking up' | 'checking' | 'sending';
export type Told = (stage: Stage, share: number) => void;

export interface KeptMend {
  field: RosterField;
  /** In lower case. */
  was: string;
  becomes: string;
}

export interface LookUpAnswer {
  known: KnownPerson[];
  takenSignInNames: string[];
  takenIdNumbers: string[];
  presets: Preset[];
}

export interface ReadFile {
  /** null: a spreadsheet. */
  encoding: Encoding | null;
  delimiter: Delimiter | null;
  cleaned: number;
  sheets: string[];
  sheet: string | null;
  lines: number;
  mapping: Mapping;
  /** By which a kept mapping is recognised. */
  headersKey: string;
}

export type ShownLine =
  | { kind: 'cause'; cause: Cause; rows: number; proposals: number }
  | { kind: 'changing'; rows: number }
  | { kind: 'good'; rows: number; left: number }
  | { kind: 'row'; row: CheckedRow };

export interface RosterSummary {
  counts: Record<RowOutcome, number>;
  lines: number;
  rows: number;
  left: number;
  /** New people who have an address. */
  withAddress: number;
  causes: { cause: Cause; rows: number; proposals: number; groups: string[] }[];
}

export const causes = ['group', 'address', 'days', 'name', 'sign-in', 'choice', 'shape', 'who'] as const;
export type Cause = (typeof causes)[number];

/** Problems that are mended alike stand together. */
export function causeOf({ code }: RowReason): Cause {
  switch (code) {
    case 'group unknown':
    case 'group ambiguous':
    case 'group missing':
      return 'group';
    case 'email':
      return 'address';
    case 'no such day':
    case 'not a date':
    case 'ends before it starts':
      return 'days';
    case 'name missing':
      return 'name';
    case 'sign-in name':
    case 'sign-in name taken':
    case 'sign-in name of another row':
    case 'password too short':
      return 'sign-in';
    case 'not a choice':
    case 'power lacked':
      return 'choice';
    case 'too many cells':
      return 'shape';
    default:
      return 'who';
  }
}
