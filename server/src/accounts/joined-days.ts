/** Who joined accounts may take that back for so long. */
export const joinedDays = 14;
