/** How a run ended: at its end time, by its user, by a limit that stops it, or by an error. */
export const RUN_STATUSES = ['done', 'cancelled', 'stopped', 'failed'] as const;
export type RunStatus = (typeof RUN_STATUSES)[number];
