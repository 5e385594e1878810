import { sql } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';

/** Names of the courses for which somebody stands in line for a seat. */
export async function coursesInLine(db: Queryable, personId: number): Promise<string[]> {
  const found = await rows<{ name: string }>(
    db,
    sql`select c.name from seat_line l join course c on c.id = l.course_id where l.person_id = ${personId} and l.until_at is null order by l.place`,
  );
  return found.map(({ name }) => name);
}
