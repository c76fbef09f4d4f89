/** What asks for a dialog whose code comes only then: an import, copies. */
import { create } from 'zustand';

export const useImportingState = create<{ on: boolean }>(() => ({ on: false }));
export const useImporting = (): boolean => useImportingState((s) => s.on);

export const useCopies = create<{ open: boolean }>(() => ({ open: false }));
export const openCopies = (open: boolean): void => useCopies.setState({ open });

export const useScripts = create<{ open: boolean }>(() => ({ open: false }));
export const openScripts = (open: boolean): void => useScripts.setState({ open });
