/** The names behind a number of a look, as far as they were fetched. */
export interface Names {
  /** Of which list, and of which course or group in it. */
  key: string;
  people: { id: number; name: string }[];
  newcomers: number;
  next: number | null;
}
