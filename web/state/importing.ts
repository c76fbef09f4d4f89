/** Whether a file is being imported; all else about it comes when the first one is. */
import { create } from 'zustand';

export const useImportingState = create<{ on: boolean }>(() => ({ on: false }));
export const useImporting = (): boolean => useImportingState((s) => s.on);
