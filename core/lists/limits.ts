/** Largest list taken in at once, bytes. */
export const MAX_LIST_BYTES = 20_000_000;
/** Most rows of one list. */
export const MAX_LIST_ROWS = 50_000;
/** Characters of a list that is pasted: some 20,000 rows. More comes as a file. */
export const MAX_PASTED = 2_000_000;
