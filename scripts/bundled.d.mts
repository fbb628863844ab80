export const BUNDLED: string[];
