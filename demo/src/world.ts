import type { GroupId } from '@gate-roster/core';

/*
 * Brannoch Isles Rescue: a made-up volunteer water-rescue service on made-up islands. All names are invented.
 */

export const organisation = { name: 'Brannoch Isles Rescue', timeZone: 'Atlantic/Faroe' };

export interface GroupPlan {
  name: string;
  /** Learners placed in this very group. */
  people: number;
  tags?: string[];
  young?: boolean;
  below?: GroupPlan[];
}

const crew = (name: string, people: number, more: Partial<GroupPlan> = {}): GroupPlan => ({ name, people, ...more });
const cadets = (people: number, below: GroupPlan[] = []): GroupPlan => ({ name: 'Cadets', people, young: true, below });

export const tree: GroupPlan = {
  name: organisation.name,
  people: 0,
  below: [
    crew('North Reach', 0, {
      below: [
        crew('Gullhaven', 6, {
          tags: ['coastal', 'pilot area'],
          below: [
            crew('Inshore crew', 20, { below: [crew('A watch', 18), crew('B watch', 15)] }),
            crew('Shore crew', 47),
            cadets(24, [crew('Junior cadets', 14, { young: true })]),
            crew('Tower watch', 18),
          ],
        }),
        crew('Penmarrow', 22, { tags: ['coastal'], below: [crew('Inshore crew', 36), crew('Shore crew', 44), cadets(21)] }),
        crew('Stacks Point', 30, { tags: ['cliffs'], below: [crew('Inshore crew', 48), crew('Shore crew', 39), cadets(24)] }),
      ],
    }),
    crew('Middle Sound', 0, {
      below: [
        crew('Ternholm', 18, { below: [crew('Inshore crew', 44), crew('Shore crew', 52), cadets(27)] }),
        crew('Kelder Quay', 12, { tags: ['harbour'], below: [crew('Inshore crew', 47), crew('Shore crew', 38), crew('Tower watch', 16)] }),
        crew('Fallow Bay', 15, { below: [crew('Inshore crew', 41), crew('Shore crew', 49)] }),
      ],
    }),
    crew('Outer Skerries', 4, {
      below: [
        crew('Skerry Light', 21, { tags: ['remote'], below: [crew('Inshore crew', 58), crew('Tower watch', 27)] }),
        crew('Hollow Ness', 17, { tags: ['remote'], below: [crew('Inshore crew', 63), crew('Shore crew', 66)] }),
      ],
    }),
    crew('Partner crews', 0, {
      below: [
        crew('Brannoch Ferries', 10, { tags: ['partner'], below: [crew('Deck crew', 56), crew('Harbour crew', 38)] }),
        crew('Solan Wind Works', 41, { tags: ['partner'] }),
        crew('Island Harbours', 8, { tags: ['partner'], below: [crew('Pilot boats', 22), crew('Quay staff', 31)] }),
      ],
    }),
  ],
};

export interface GrantPlan {
  at: string;
  course: string;
  effect?: 'block';
  firm?: true;
  units?: number;
  due?: { days: number } | { day: number; least: number };
  /** Days from today. */
  from?: number;
  /** The name of the licence that pays; left out: it costs nobody a seat. */
  paidBy?: string;
}

/** Groups by their path below the root; `due.day` and `from` are days from today. */
export const grants: GrantPlan[] = [
  { at: '', course: 'Cold-water immersion', due: { days: 90 } },
  { at: '', course: 'Throw-line basics' },
  { at: '', course: 'Safeguarding', due: { day: -20, least: 60 } },
  { at: 'North Reach', course: 'Casualty care', due: { days: 420 } },
  { at: 'North Reach', course: 'VHF radio' },
  { at: 'Middle Sound', course: 'VHF radio', due: { day: 5, least: 30 } },
  { at: 'Middle Sound/Ternholm', course: 'Casualty care' },
  { at: 'Outer Skerries', course: 'Casualty care' },
  { at: 'Outer Skerries', course: 'VHF radio' },
  { at: 'North Reach/Gullhaven', course: 'Boat handling 1' },
  { at: 'North Reach/Gullhaven/Inshore crew', course: 'Boat handling 2' },
  { at: 'North Reach/Gullhaven/Cadets', course: 'Boat handling 1', effect: 'block' },
  { at: 'North Reach/Gullhaven/Cadets', course: 'Casualty care', units: 3 },
  { at: 'North Reach/Gullhaven', course: 'Night navigation', from: 42 },
  { at: 'North Reach/Gullhaven/Cadets', course: 'Night navigation', effect: 'block', firm: true },
  { at: 'North Reach/Penmarrow', course: 'Boat handling 1' },
  { at: 'North Reach/Stacks Point', course: 'Boat handling 1' },
  { at: 'North Reach/Stacks Point', course: 'Boat handling 2' },
  { at: 'North Reach/Stacks Point', course: 'Search patterns' },
  { at: 'North Reach/Stacks Point/Cadets', course: 'Boat handling 2', effect: 'block', firm: true },
  { at: 'North Reach/Gullhaven/Tower watch', course: 'Tower lookout' },
  { at: 'Middle Sound/Ternholm', course: 'Boat handling 1' },
  { at: 'Middle Sound/Kelder Quay', course: 'Boat handling 1' },
  { at: 'Middle Sound/Kelder Quay/Tower watch', course: 'Tower lookout', due: { days: 120 } },
  { at: 'Outer Skerries/Skerry Light', course: 'Search patterns' },
  { at: 'Outer Skerries/Skerry Light/Tower watch', course: 'Tower lookout' },
  { at: 'Outer Skerries', course: 'Engine care' },
  { at: 'Partner crews', course: 'Knots and lines' },
  { at: 'Partner crews/Brannoch Ferries', course: 'Casualty care', due: { day: 30, least: 30 }, paidBy: 'Ferry crews: casualty care' },
  { at: 'Partner crews/Solan Wind Works', course: 'Boat handling 1', due: { days: 60 }, paidBy: 'Partners: boat handling' },
  { at: 'Partner crews/Island Harbours', course: 'Boat handling 1', due: { days: 60 }, paidBy: 'Partners: boat handling' },
];

/** A course set that is opened as a whole, from a day on: what comes into it later reaches the group, too. Said some days ago. */
export const setOpened = {
  at: 'Outer Skerries/Skerry Light/Tower watch',
  set: 'Duty',
  daysAgo: 12,
  firstInDays: 35,
  note: 'Everybody on the watch stands duty from this winter',
};

export interface LicencePlan {
  name: string;
  course: string;
  home: string;
  seats: number;
  /** Days from today. */
  from: number;
  until: number;
  limits: { at: string; most: number }[];
}

/** Partner crews buy seats; there are a few too few. */
export const licences: LicencePlan[] = [
  {
    name: 'Partners: boat handling',
    course: 'Boat handling 1',
    home: 'Partner crews',
    seats: 92,
    from: -160,
    until: 205,
    limits: [{ at: 'Partner crews/Solan Wind Works', most: 40 }],
  },
  {
    name: 'Ferry crews: casualty care',
    course: 'Casualty care',
    home: 'Partner crews/Brannoch Ferries',
    seats: 110,
    from: -90,
    until: 275,
    limits: [{ at: 'Partner crews/Brannoch Ferries/Deck crew', most: 60 }],
  },
];

export const tagNames = ['radio', 'throw-line', 'boat-handlers', 'helm', 'night', 'first aid', 'reserve'];

export const givenNames = [
  'Abiodun',
  'Aino',
  'Alejandra',
  'Amaïa',
  'Anneliese',
  'Arjun',
  'Åsa',
  'Bao',
  'Benedikt',
  'Björn',
  'Callum',
  'Çelik',
  'Chiara',
  'Dagny',
  'Delphine',
  'Dóra',
  'Eirik',
  'Élodie',
  'Emeka',
  'Faustina',
  'Fenella',
  'Gideon',
  'Goran',
  'Håkon',
  'Hana',
  'Ines',
  'Ioana',
  'Jovana',
  'Kasimir',
  'Keira',
  'Kofi',
  'Kwabena',
  'Leocadia',
  'Linh',
  'Mateus',
  'Mei',
  'Nkechi',
  'Noor',
  'Oisín',
  'Ottoline',
  'Paloma',
  'Petronella',
  'Priya',
  'Rashid',
  'Rosalind',
  'Rurik',
  'Saoirse',
  'Sefu',
  'Søren',
  'Tamsin',
  'Thandiwe',
  'Tomasz',
  'Ulrika',
  'Ursel',
  'Vesna',
  'Viggo',
  'Wen',
  'Wilhelmina',
  'Xochitl',
  'Yaroslav',
  'Yevgenia',
  'Yusra',
  'Zainab',
  'Zoltán',
];

export const familyNames = [
  'Achterberg',
  'Adeyemi',
  'Aldersea',
  'Bellweather',
  'Brandt',
  'Brightwater',
  'Cormorant',
  'Drăgulescu',
  'Driftmoor',
  'Eddystane',
  'Farrow',
  'Ferrante',
  'Fitzalan',
  'Grünewald',
  'Hallström',
  'Haugland',
  'Holt',
  'Ibáñez',
  'Jankowski',
  'Kelpwright',
  'Kowalczyk',
  'Laurier',
  'Lindqvist',
  'Marangoz',
  'Marrowby',
  'Mbeki-Strand',
  'Mwangi',
  'Nakagawa',
  'Nørgaard',
  'O’Dowell',
  'Okonjo',
  'Ólafsdóttir',
  'Ostrowe',
  'Oyelaran',
  'Pemberton',
  'Petrossian',
  'Quill',
  'Rautio',
  'Saltmarsh',
  'Šimić',
  'Sørlie',
  'Tamboura',
  'Thorne',
  'Tkachuk',
  'Ünal',
  'Valcourt',
  'Varga',
  'Vasquez',
  'Winterbourne',
  'Yamaguchi',
  'Zielinski',
];

export interface PlacedGroup {
  id: GroupId;
  parentId: GroupId | null;
  plan: GroupPlan;
  path: string;
}

/** The tree as a list, parents first, with ids from 1. */
export function placedGroups(): PlacedGroup[] {
  const placed: PlacedGroup[] = [];
  const place = (plan: GroupPlan, parentId: GroupId | null, path: string): void => {
    const id = placed.length + 1;
    placed.push({ id, parentId, plan, path });
    for (const below of plan.below ?? []) place(below, id, path === '' ? below.name : `${path}/${below.name}`);
  };
  place(tree, null, '');
  return placed;
}
