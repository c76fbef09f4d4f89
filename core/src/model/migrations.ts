/** Step n turns a file of version n+1 into version n+2. Version 1 is the first, so there is none yet. */
export const MIGRATIONS: readonly ((file: Record<string, unknown>) => Record<string, unknown>)[] = [];
