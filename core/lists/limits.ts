/** Largest list taken in at once, bytes. */
export const MAX_LIST_BYTES = 20_000_000;
/** Most rows of one list. */
export const MAX_LIST_ROWS = 50_000;
