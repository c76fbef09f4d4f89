export type StageName = 'Build' | 'Readings' | 'Workings';
export const STAGES: readonly StageName[] = ['Build', 'Readings', 'Workings'];
