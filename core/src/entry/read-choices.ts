import type { Preset } from '../accounts/powers.ts';
import { foldName } from '../people/person-name.ts';

/** Words in a cell for one of a few things, folded by `foldName`. */
const roles: Record<'learner' | 'leader', readonly string[]> = {
  learner: ['learner', 'student', 'member', 'participant', 'pupil', 'crew', 'lernende', 'lerner', 'apprenant', 'eleve', 'alumno'],
  leader: ['leader', 'head', 'teacher', 'trainer', 'instructor', 'leiter', 'leitung', 'chef', 'responsable', 'lider', 'leder'],
};
const powerPresets: Record<Preset, readonly string[]> = {
  head: ['head', 'all', 'leitung', 'chef', 'full'],
  helper: ['helper', 'assistant', 'aide', 'helfer', 'ayudante'],
  auditor: ['auditor', 'viewer', 'readonly', 'observer', 'prufer'],
};
const yesNo: Record<'yes' | 'no', readonly string[]> = {
  yes: ['yes', 'y', 'true', '1', 'x', 'ja', 'oui', 'si', 'hidden'],
  no: ['no', 'n', 'false', '0', 'nein', 'non', 'nei', 'shown'],
};

const reader =
  <T extends string>(known: Record<T, readonly string[]>) =>
  (text: string): T | null => {
    const folded = foldName(text);
    return (Object.keys(known) as T[]).find((each) => known[each].includes(folded)) ?? null;
  };

/** @returns Null when the cell says something else. */
export const readRole = reader(roles);
export const readPreset = reader(powerPresets);
export const readYesNo = reader(yesNo);
