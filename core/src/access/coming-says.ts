/** What a day does by itself, as a sentence without its day and without a full stop. */
export interface ComingFacts {
  kind:
    | 'opens'
    | 'closes'
    | 'due'
    | 'opens again'
    | 'memberships end'
    | 'accounts end'
    | 'seats come back'
    | 'group begins'
    | 'group ends'
    | 'leader ends'
    | 'code ends'
    | 'licence ends';
  people: number;
  course: string;
  group: string;
  /** A code, a licence or a leader. */
  name: string;
}

/**
 * The sentence for a line of what is coming up: on the screen, and in a calendar.
 * @param count How numbers are written.
 */
export function comingSays(
  { kind, people, course, group, name }: ComingFacts,
  count: (number: number) => string = (number) => String(number),
): string {
  const some = (one: string, more: string): string => `${count(people)} ${people === 1 ? one : more}`;
  switch (kind) {
    case 'opens':
      return `${course} opens for ${some('person', 'people')}`;
    case 'closes':
      return `${some('person loses', 'people lose')} ${course} at the end of the day`;
    case 'due':
      return `${some('person is', 'people are')} due in ${course}`;
    case 'opens again':
      return `${course} opens again for ${some('person', 'people')}`;
    case 'memberships end':
      return `${some('membership ends', 'memberships end')} in ${group}`;
    case 'accounts end':
      return some('account ends', 'accounts end');
    case 'seats come back':
      return some('seat that lies idle comes back', 'seats that lie idle come back');
    case 'group begins':
      return `${group} begins: ${some('person', 'people')}`;
    case 'group ends':
      return `${group} ends: ${some('person', 'people')}`;
    case 'leader ends':
      return `${name} stops leading ${group}`;
    case 'code ends':
      return `Join code ${name} ends`;
    case 'licence ends':
      return `The licence ${name} ends`;
  }
}
