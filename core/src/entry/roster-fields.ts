/** What a column of a file can be. */
export const rosterFields = [
  'givenName',
  'familyName',
  'fullName',
  'email',
  'idNumber',
  'signInName',
  'group',
  'role',
  'powers',
  'tags',
  'firstDay',
  'lastDay',
  'nameHidden',
  'guardianEmail',
  'password',
] as const;
export type RosterField = (typeof rosterFields)[number];

/** Columns that hold nothing of a person: what was mended there for one file is worth proposing for the next. */
export const impersonalFields = ['group', 'role', 'powers', 'tags'] as const satisfies readonly RosterField[];

/** How the numbers of a day are ordered; found over the whole column, never guessed cell by cell. */
export type DateOrder = 'dayFirst' | 'monthFirst' | 'yearFirst';

/** One row of the file after mapping: the text of each mapped cell, as it stood there or was mended. */
export interface RosterRow {
  /** As a spreadsheet numbers it: the first line of the file is row 1. */
  row: number;
  cells: Partial<Record<RosterField, string | undefined>>;
  /** Cells beyond the last named column, which may mean that all of the row is shifted. */
  isRagged?: boolean | undefined;
}

/** Headers that people write for a field, folded by `foldName`. */
export const headerSynonyms: Record<RosterField, readonly string[]> = {
  givenName: ['first', 'firstname', 'givenname', 'given', 'forename', 'vorname', 'prenom', 'nombre', 'imie', 'fornavn', 'voornaam', 'nome'],
  familyName: [
    'surname',
    'last',
    'lastname',
    'familyname',
    'family',
    'nachname',
    'nom',
    'apellido',
    'apellidos',
    'nazwisko',
    'etternavn',
    'achternaam',
    'cognome',
  ],
  fullName: ['name', 'fullname', 'learner', 'person', 'navn', 'nomcomplet', 'nombrecompleto', 'vollername', 'naam'],
  email: ['email', 'mail', 'emailaddress', 'address', 'courriel', 'correo', 'epost', 'eposta', 'adresseemail'],
  idNumber: [
    'id',
    'idnumber',
    'staffno',
    'staffnumber',
    'staffid',
    'number',
    'no',
    'membernumber',
    'memberno',
    'employeeid',
    'personnelnumber',
    'personalnummer',
    'matricule',
    'externalid',
  ],
  signInName: ['signinname', 'signin', 'login', 'loginname', 'username', 'user', 'account', 'benutzername', 'identifiant', 'usuario'],
  group: [
    'group',
    'groups',
    'subgroup',
    'team',
    'crew',
    'station',
    'stationcrew',
    'unit',
    'department',
    'class',
    'gruppe',
    'groupe',
    'grupo',
    'abteilung',
    'equipe',
  ],
  role: ['role', 'type', 'rolle', 'rol', 'fonction', 'funktion'],
  powers: ['powers', 'leaderpowers', 'preset', 'rechte', 'droits'],
  tags: ['tags', 'tag', 'skills', 'labels', 'keywords', 'fahigkeiten', 'competences', 'etiquetas'],
  firstDay: [
    'from',
    'start',
    'starts',
    'startdate',
    'startson',
    'firstday',
    'since',
    'joined',
    'joiningdate',
    'validfrom',
    'von',
    'beginn',
    'debut',
    'desde',
    'fra',
  ],
  lastDay: [
    'until',
    'to',
    'end',
    'ends',
    'enddate',
    'endson',
    'lastday',
    'leaves',
    'validuntil',
    'validto',
    'validthrough',
    'expires',
    'expirydate',
    'expiry',
    'till',
    'leavingdate',
    'bis',
    'ende',
    'fin',
    'hasta',
    'til',
  ],
  nameHidden: ['namehidden', 'hidden', 'hidename', 'nameverborgen', 'nommasque'],
  guardianEmail: [
    'guardian',
    'guardianemail',
    'guardiansemail',
    'guardiansemailaddress',
    'guardiansaddress',
    'parent',
    'parentemail',
    'parentsemail',
    'eltern',
  ],
  password: ['password', 'passwort', 'motdepasse', 'contrasena', 'passord'],
};
