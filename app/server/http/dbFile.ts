import path from "node:path";

/**
 * File of the lane's database: UPSHIFT_DB, or `data/lane.db`. Whatever starts without being told otherwise, the lane as well as the
 * commands beside it, means this one.
 */
export const dbFile = (): string => process.env.UPSHIFT_DB || path.resolve("data/lane.db");
