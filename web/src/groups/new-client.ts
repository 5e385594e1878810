import type { Change } from '@gate-roster/contract';
import { type Power, presets, readWho } from '@gate-roster/core';

/** What is typed about a new client. */
export interface ClientForm {
  parentId: number | null;
  name: string;
  firstDay: string;
  lastDay: string;
  /** A name with an address, as it is pasted; nobody while it is empty. */
  leader: string;
  powers: readonly Power[];
  /** `course 3` or `set 2`, as the list of both has them. */
  opens: string[];
  /** How many; empty: no seat is needed. */
  seats: string;
  /** The licence above whose seats are limited; null: licences of its own. */
  licenceId: number | null;
  code: boolean;
}

export const emptyClient = (parentId: number): ClientForm => ({
  parentId,
  name: '',
  firstDay: '',
  lastDay: '',
  leader: '',
  powers: presets.head,
  opens: [],
  seats: '',
  licenceId: null,
  code: true,
});

/** The change that the form asks for; null while it has no name. */
export function clientChange(form: ClientForm): Extract<Change, { kind: 'make-client' }> | null {
  if (form.parentId === null || form.name.trim() === '') return null;
  const seats = Number(form.seats);
  const isCounted = form.seats !== '' && Number.isInteger(seats) && seats >= 0 && form.opens.length > 0;
  return {
    kind: 'make-client',
    parentId: form.parentId,
    name: form.name,
    firstDay: form.firstDay || null,
    lastDay: form.lastDay || null,
    leader: leaderOf(form),
    opens: form.opens.map((each) => {
      const [what, id] = each.split(' ');
      return what === 'set' ? { courseSetId: Number(id) } : { courseId: Number(id) };
    }),
    seats: !isCounted
      ? { how: 'none' }
      : form.licenceId === null
        ? { how: 'own', seats }
        : { how: 'limit', licenceId: form.licenceId, most: seats },
    code: form.code,
  };
}

function leaderOf({ leader, powers }: ClientForm): Extract<Change, { kind: 'make-client' }>['leader'] {
  if (leader.trim() === '' || powers.length === 0) return null;
  return { who: readWho(leader), powers: [...powers], firstDay: null, lastDay: null };
}
