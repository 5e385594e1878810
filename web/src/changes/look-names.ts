/** The names behind a number of a look, as far as they were fetched. */
export interface Names {
  /** Of which list, and of which course or group in it. */
  key: string;
  /** `group`: to tell those of one name apart. */
  people: { id: number; name: string; group: string | null }[];
  newcomers: number;
  next: number | null;
}
