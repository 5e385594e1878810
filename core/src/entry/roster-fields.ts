/** What a column of a file can be. */
export const rosterFields = ['givenName', 'familyName', 'fullName', 'email', 'idNumber', 'group', 'tags', 'firstDay', 'lastDay'] as const;
export type RosterField = (typeof rosterFields)[number];

/** How the numbers of a day are ordered; found over the whole column, never guessed cell by cell. */
export type DateOrder = 'dayFirst' | 'monthFirst' | 'yearFirst';

/** One row of the file after mapping: the text of each mapped cell, as it stood there or was mended. */
export interface RosterRow {
  /** As a spreadsheet numbers it: the first line of the file is row 1. */
  row: number;
  cells: Partial<Record<RosterField, string | undefined>>;
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
  tags: ['tags', 'tag', 'skills', 'labels', 'keywords', 'fahigkeiten', 'competences', 'etiquetas'],
  firstDay: ['from', 'start', 'starts', 'startdate', 'startson', 'firstday', 'since', 'joined', 'von', 'beginn', 'debut', 'desde', 'fra'],
  lastDay: ['until', 'to', 'end', 'ends', 'enddate', 'endson', 'lastday', 'leaves', 'bis', 'ende', 'fin', 'hasta', 'til'],
};
