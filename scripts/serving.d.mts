export const SERVE: readonly string[];
